/** Files as shops have them, and what each says: written before the code that reads them. */

export interface MessyFile {
  readonly name: string;
  readonly target: 'catalog' | 'people';
  readonly bytes: Uint8Array;
  /** Expected target of each column; null if ignored. */
  readonly columns: readonly (string | null)[];
  /** The first rows under our own names. */
  readonly rows: readonly Readonly<Record<string, string>>[];
  /** Whether days and months cannot be told apart, so that the owner is asked. */
  readonly asksForDates?: true;
}

const utf8 = (text: string) => new TextEncoder().encode(text);

/** Latin-1 is the same as Windows-1252 but for a few signs, of which the euro is one. */
const windows = (text: string) =>
  Uint8Array.from(Array.from(text, (sign) => (sign === '€' ? 0x80 : sign === '–' ? 0x96 : sign.charCodeAt(0))));

function utf16(text: string, isLittle: boolean, withMark: boolean): Uint8Array {
  const all = withMark ? `\uFEFF${text}` : text;
  const bytes = new Uint8Array(all.length * 2);
  const view = new DataView(bytes.buffer);
  for (let at = 0; at < all.length; at += 1) view.setUint16(at * 2, all.charCodeAt(at), isLittle);
  return bytes;
}

const lines = (...all: readonly string[]) => all.join('\r\n');

export const MESSY_FILES: readonly MessyFile[] = [
  {
    name: 'names, prices and stock in German, no ids at all',
    target: 'catalog',
    bytes: windows(lines('Artikel;Preis;Bestand', 'Königsfarn;12,50 €;7', 'Blaues Lungenkraut;1.299,00 €;0')),
    columns: ['title', 'price', 'stock_quantity'],
    rows: [
      { variant_id: 'konigsfarn', title: 'Königsfarn', price: '12.50', currency: 'EUR', stock_quantity: '7' },
      {
        variant_id: 'blaues-lungenkraut',
        title: 'Blaues Lungenkraut',
        price: '1299.00',
        currency: 'EUR',
        stock_quantity: '0',
      },
    ],
  },
  {
    name: 'numbers of articles in German, with their names beside them',
    target: 'catalog',
    bytes: utf8(lines('Artikel;Bezeichnung;VK-Preis;Lagerbestand', 'F-100;Schildfarn;7,9;12', 'F-101;Wurmfarn;8;3')),
    columns: ['variant_id', 'title', 'price', 'stock_quantity'],
    rows: [
      { variant_id: 'F-100', title: 'Schildfarn', price: '7.9', stock_quantity: '12' },
      { variant_id: 'F-101', title: 'Wurmfarn', price: '8', stock_quantity: '3' },
    ],
  },
  {
    name: 'French, with spaces between thousands',
    target: 'catalog',
    bytes: utf8(
      lines(
        'Référence;Désignation;Prix TTC;Stock;Catégorie;Étiquettes',
        'FG-1;Fougère mâle;1\u202f234,50;4;Plantes > Fougères;rare, ombre',
        'FG-2;Fougère royale;9,00;0;Plantes > Fougères;ombre',
      ),
    ),
    columns: ['variant_id', 'title', 'price', 'stock_quantity', 'categories', 'tags'],
    rows: [
      {
        variant_id: 'FG-1',
        title: 'Fougère mâle',
        price: '1234.50',
        stock_quantity: '4',
        categories: 'Plantes > Fougères',
        tags: 'rare|ombre',
      },
    ],
  },
  {
    name: 'two bytes a sign and tabs, as spreadsheets save text',
    target: 'catalog',
    bytes: utf16(lines('SKU\tProduct name\tPrice\tQty', 'A1\tShield fern\t$1,234.50\t1,200'), true, true),
    columns: ['sku', 'title', 'price', 'stock_quantity'],
    rows: [{ variant_id: 'A1', sku: 'A1', title: 'Shield fern', price: '1234.50', stock_quantity: '1200' }],
  },
  {
    name: 'two bytes a sign the other way about, without a mark',
    target: 'catalog',
    bytes: utf16(lines('Product ID,Title,Price', 'p1,Bistort,3.20'), false, false),
    columns: ['product_id', 'title', 'price'],
    rows: [{ variant_id: 'p1', product_id: 'p1', title: 'Bistort', price: '3.20' }],
  },
  {
    name: 'Swiss thousands, and a price without cents',
    target: 'catalog',
    bytes: utf8(lines('Artikelnummer;Titel;Preis CHF', "S1;Farn;1'234.50", 'S2;Moos;CHF 12.–', 'S3;Gras;5.-')),
    columns: ['variant_id', 'title', 'price'],
    rows: [
      { variant_id: 'S1', title: 'Farn', price: '1234.50' },
      { variant_id: 'S2', title: 'Moos', price: '12', currency: 'CHF' },
      { variant_id: 'S3', title: 'Gras', price: '5' },
    ],
  },
  {
    name: 'a date and a property in columns of their own, days first',
    target: 'catalog',
    bytes: utf8(
      lines(
        'id,name,price,Ships on,Hardiness,Pot size',
        'n-1,Night aster,5.50,15/03/2027,H5,9 cm',
        'n-2,Day aster,6.00,1/4/2027,H4,2 litre',
      ),
    ),
    columns: ['variant_id', 'title', 'price', 'date:Ships on', 'attribute:Hardiness', 'option:Pot size'],
    rows: [
      {
        variant_id: 'n-1',
        title: 'Night aster',
        price: '5.50',
        'date:Ships on': '2027-03-15',
        'attribute:Hardiness': 'H5',
        'option:Pot size': '9 cm',
      },
      {
        variant_id: 'n-2',
        title: 'Day aster',
        price: '6.00',
        'date:Ships on': '2027-04-01',
        'attribute:Hardiness': 'H4',
        'option:Pot size': '2 litre',
      },
    ],
  },
  {
    name: 'dates of which nobody can say which is the month',
    target: 'catalog',
    bytes: utf8(lines('id,title,price,Ships on', 'u-1,Aster,5.50,03/04/2027', 'u-2,Bistort,5.50,05/06/2027')),
    columns: ['variant_id', 'title', 'price', 'date:Ships on'],
    rows: [],
    asksForDates: true,
  },
  {
    name: 'months by name, in German',
    target: 'catalog',
    bytes: utf8(lines('Nummer;Name;Preis;Lieferbar ab', 'm1;Farn;5,00;3. März 2027', 'm2;Moos;6,00;12. Dez. 2026')),
    columns: ['variant_id', 'title', 'price', 'date:Lieferbar ab'],
    rows: [
      { variant_id: 'm1', title: 'Farn', price: '5.00', 'date:Lieferbar ab': '2027-03-03' },
      { variant_id: 'm2', title: 'Moos', price: '6.00', 'date:Lieferbar ab': '2026-12-12' },
    ],
  },
  {
    name: 'separators and line ends within quotation marks',
    target: 'catalog',
    bytes: utf8('sku;title;price\n1;"Fern; the\ntall one";"1.250,00"\n\n2;Moss;3,00\n'),
    columns: ['sku', 'title', 'price'],
    rows: [
      { variant_id: '1', sku: '1', title: 'Fern; the\ntall one', price: '1250.00' },
      { variant_id: '2', sku: '2', title: 'Moss', price: '3.00' },
    ],
  },
  {
    name: 'Portuguese, with what is tracked in words',
    target: 'catalog',
    bytes: utf8(
      lines('Código;Nome;Preço;Qtd;Controla estoque', 'pt1;Samambaia;R$ 10,00;3;sim', 'pt2;Musgo;8,50;0;não'),
    ),
    columns: ['variant_id', 'title', 'price', 'stock_quantity', 'stock_tracked'],
    rows: [
      { variant_id: 'pt1', title: 'Samambaia', price: '10.00', stock_quantity: '3', stock_tracked: 'true' },
      { variant_id: 'pt2', title: 'Musgo', price: '8.50', stock_quantity: '0', stock_tracked: 'false' },
    ],
  },
  {
    name: 'Japanese, with prices in whole yen',
    target: 'catalog',
    bytes: utf8(lines('商品コード,商品名,価格,在庫', 'j1,シダ,"￥1,200",5')),
    columns: ['variant_id', 'title', 'price', 'stock_quantity'],
    rows: [{ variant_id: 'j1', title: 'シダ', price: '1200', stock_quantity: '5' }],
  },
  {
    name: 'headings that say nothing, told by what stands below them',
    target: 'catalog',
    bytes: utf8(
      lines(
        'A|B|C|D',
        '/plants/fern|Shield fern from the north wall|14.50|https://quillfern.example/fern.jpg',
        '/plants/moss|Moss for shade|3.00|https://quillfern.example/moss.jpg',
      ),
    ),
    columns: ['path', 'title', 'price', 'image'],
    rows: [
      {
        variant_id: 'shield-fern-from-the-north-wall',
        path: '/plants/fern',
        title: 'Shield fern from the north wall',
        price: '14.50',
        image: 'https://quillfern.example/fern.jpg',
      },
    ],
  },
  {
    name: 'whole addresses of pages',
    target: 'catalog',
    bytes: utf8(lines('id,title,link,price', 'w1,Fern,https://quillfern.example/plants/fern?size=2#top,4')),
    columns: ['variant_id', 'title', 'path', 'price'],
    rows: [{ variant_id: 'w1', title: 'Fern', path: '/plants/fern?size=2', price: '4' }],
  },
  {
    name: 'members in German, first and last names apart, with the time of their membership',
    target: 'people',
    bytes: windows(
      lines(
        'Kundennr;Vorname;Nachname;E-Mail-Adresse;Gruppe;Mitglied seit;Mitglied bis',
        'K1;Jörg;Öhler;joerg@quillfern.example;Mitglied;01.03.2026;28.02.2027',
        'K2;Ada;Wren;ada@quillfern.example;;;',
      ),
    ),
    columns: ['customer_id', 'first_name', 'last_name', 'email', 'roles', 'role_from', 'role_until'],
    rows: [
      {
        customer_id: 'K1',
        name: 'Jörg Öhler',
        email: 'joerg@quillfern.example',
        roles: 'Mitglied@2026-03-01/2027-02-28',
      },
      { customer_id: 'K2', name: 'Ada Wren', email: 'ada@quillfern.example', roles: '' },
    ],
  },
  {
    name: 'members in American dates, known by their address alone',
    target: 'people',
    bytes: utf8(
      lines('Email,Full name,Membership,Member until', 'bo@quillfern.example,Bo Reed,member|trade,12/31/2026'),
    ),
    columns: ['email', 'name', 'roles', 'role_until'],
    rows: [
      {
        customer_id: 'bo@quillfern.example',
        email: 'bo@quillfern.example',
        name: 'Bo Reed',
        roles: 'member@/2026-12-31|trade@/2026-12-31',
      },
    ],
  },
  {
    name: 'our own names, as our own exports write them',
    target: 'people',
    bytes: utf8(lines('\uFEFFcustomer_id,email,roles', 'c-1,cy@quillfern.example,"trade | member@2026-01-01/"')),
    columns: ['customer_id', 'email', 'roles'],
    rows: [{ customer_id: 'c-1', email: 'cy@quillfern.example', roles: 'trade | member@2026-01-01/' }],
  },
];
