import { PRODUCT_COLUMNS, perColumn } from '../model/productColumns.ts';
import type { TargetName } from './fileReading.ts';

/** Normalises a heading: letters and digits of any script, without case and accents. */
export const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{Nd}]+/gu, '');

/** Headings in the languages that we have texts in, the plainest first. */
const HEADINGS: Readonly<Record<TargetName, Readonly<Record<string, string>>>> = {
  catalog: {
    variant_id: `variant, id, variant id, number, code, item number, article number, nummer, artikelnummer, artikel-nr,
      art-nr, bestellnummer, référence, réf, code article, código, referencia, ref, codice, codice articolo, número,
      artikelcode, bestelnummer, referência, kod, numer, kod produktu, artikelnr, varunummer, 商品コード, 品番, 商品番号`,
    product_id:
      'product id, group, parent, parent id, handle, produkt-id, id produit, id producto, id prodotto, 商品id',
    path: `path, url, link, address, page, permalink, pfad, adresse, seite, lien, page produit, enlace, página, indirizzo,
      pagina, koppeling, ligação, adres, länk, ページ`,
    title: `title, name, product name, item name, titel, bezeichnung, artikelbezeichnung, produktname, artikelname, nom,
      désignation, libellé, titre, nom du produit, nombre, título, descripción corta, nome, titolo, denominazione, naam,
      omschrijving, productnaam, designação, nazwa, tytuł, namn, benämning, 商品名, 品名, 名称`,
    ...perColumn((column) => PRODUCT_COLUMNS[column].headings),
    categories: `categories, category, collection, kategorie, kategorien, warengruppe, catégorie, catégories, rayon, categoría,
      categorías, categoria, categorie, categorias, kategoria, kategorier, カテゴリ, カテゴリー`,
    tags: `tags, tag, labels, keywords, schlagworte, stichworte, étiquettes, mots clés, etiquetas, etichette, trefwoorden,
      tagi, etykiety, taggar, タグ`,
    attributes: 'attributes',
    dates: 'dates',
    sku: 'sku, stock keeping unit',
    options: 'options',
    price: `price, sale price, retail price, preis, vk, vk-preis, verkaufspreis, bruttopreis, prix, prix ttc, precio,
      pvp, prezzo, prijs, verkoopprijs, preço, cena, pris, 価格, 販売価格, 単価`,
    price_before: `price before, old price, compare price, compare at price, was, rrp, uvp, alter preis, streichpreis, ancien prix,
      prix barré, precio anterior, prezzo precedente, oude prijs, preço anterior, stara cena, tidigare pris, 定価`,
    currency: 'currency, währung, devise, monnaie, moneda, valuta, moeda, waluta, 通貨',
    stock_tracked: `stock tracked, track stock, track inventory, manage stock, bestand führen, lagerführung, suivi du stock,
      gestión de stock, controla estoque, controla stock, voorraadbeheer`,
    stock_quantity: `stock quantity, stock, quantity, qty, inventory, on hand, available, bestand, lagerbestand, menge, anzahl,
      verfügbar, quantité, qté, en stock, existencias, cantidad, stock actual, giacenza, quantità, disponibilità, voorraad,
      aantal, quantidade, qtd, estoque, stan, ilość, stan magazynowy, lager, antal, lagersaldo, 在庫, 在庫数, 数量`,
    sell_past_zero:
      'sell past zero, backorder, backorders, allow backorders, continue selling, überverkauf, nachbestellbar',
    image:
      'image, picture, photo, image url, bild, foto, photo url, imagen, immagine, afbeelding, imagem, zdjęcie, 画像',
  },
  people: {
    customer_id: `customer id, id, customer, number, customer number, kundennummer, kundennr, kunden-id, kunde, mitgliedsnummer,
      numéro client, client, código de cliente, cliente, codice cliente, klantnummer, klant, número de cliente,
      numer klienta, kundnummer, 顧客id, 会員番号, 顧客番号`,
    email: `email, e-mail, mail, email address, e-mail-adresse, courriel, adresse e-mail, correo, correo electrónico, posta,
      e-mailadres, endereço de email, adres e-mail, e-post, メール, メールアドレス`,
    name: `name, full name, customer name, kundenname, nom complet, nombre, nombre completo, nome, nome completo, naam, nazwa,
      imię i nazwisko, namn, 氏名, 名前`,
    first_name: 'first name, given name, vorname, prénom, nombre de pila, nome proprio, voornaam, imię, förnamn, 名',
    last_name:
      'last name, surname, family name, nachname, familienname, nom de famille, nom, apellido, apellidos, cognome, achternaam, apelido, sobrenome, nazwisko, efternamn, 姓',
    phone: `phone, telephone, mobile, phone number, telefon, handy, telefonnummer, téléphone, portable, teléfono, móvil,
      telefono, cellulare, telefoon, telefone, telemóvel, 電話, 電話番号`,
    roles: `roles, role, groups, group, membership, segment, rolle, rollen, gruppe, gruppen, kundengruppe, mitgliedschaft, rôle,
      groupe, adhésion, rol, grupo, membresía, ruolo, gruppo, groep, lidmaatschap, papel, rola, grupa, roll, grupp,
      グループ, 会員種別`,
    role_from: `role from, member from, member since, since, joined, valid from, mitglied seit, mitglied ab, gültig ab, seit,
      membre depuis, depuis, miembro desde, desde, membro dal, dal, lid sinds, membro desde, członek od, medlem sedan, 入会日`,
    role_until: `role until, member until, member to, until, expires, expiry, valid until, mitglied bis, gültig bis, bis,
      membre jusqu’au, jusqu’au, miembro hasta, hasta, membro fino al, lid tot, membro até, członek do, medlem till, 有効期限`,
  },
};

/** Columns that are a choice of one product: each is an option under its own name. */
const OPTIONS = `size, colour, color, pot, pot size, volume, größe, farbe, topf, topfgröße, taille, couleur, pointure, talla, color,
  tamaño, taglia, colore, misura, maat, kleur, tamanho, cor, rozmiar, kolor, storlek, färg, サイズ, 色`;

/** Headings of a name or a number: the values below decide which. */
const THINGS = `article, item, product, artikel, produkt, produit, artículo, producto, articolo, prodotto, artigo, produto, vara, 商品`;

const words = (list: string): readonly string[] => [...new Set(list.split(',').map(plain))];
const byTarget = (target: TargetName) =>
  Object.entries(HEADINGS[target]).map(([column, list]) => ({ column, names: words(list) }));
const COLUMNS = { catalog: byTarget('catalog'), people: byTarget('people') } as const;
const OPTION_NAMES = new Set(words(OPTIONS));
const THING_NAMES = new Set(words(THINGS));

/** Finds the column that a whole heading names, by its own name first; null if none. */
export function namedBy(target: TargetName, heading: string): string | null {
  const name = plain(heading);
  const all = COLUMNS[target];
  return (
    (all.find(({ column }) => plain(column) === name) ?? all.find(({ names }) => names.includes(name)))?.column ?? null
  );
}

/** Finds the column that a word of a heading names: `Preis CHF` is a price. */
export function namedInPart(target: TargetName, heading: string): string | null {
  const parts = new Set(
    heading
      .split(/[^\p{L}\p{M}\p{Nd}]+/u)
      .map(plain)
      .filter((part) => part.length > 2),
  );
  return COLUMNS[target].find(({ names }) => names.some((name) => parts.has(name)))?.column ?? null;
}

export const isOptionName = (heading: string): boolean => OPTION_NAMES.has(plain(heading));
export const isThing = (heading: string): boolean => THING_NAMES.has(plain(heading));
