/** Words on buttons that put something into a cart, in the languages that shops are written in. */
export const ADD_TO_CART =
  /\b(add|put|place|move)\b.{0,24}\b(cart|basket|bag|trolley|order|box)\b|\b(buy|order|shop|get|take|grab|purchase|reserve|pre-?order)\b.{0,12}\b(it|this|now|one|today|here)\b|^\s*(buy|order|add|purchase)\s*$|ajouter\b.{0,16}\b(panier|cabas|sac)|mettre au panier|acheter|commander|in den warenkorb|in den einkaufswagen|in den korb|jetzt kaufen|kaufen|bestellen|aggiungi\b.{0,16}\b(carrello|borsa|cestino)|acquista|compra|añadir\b.{0,16}\b(carrito|cesta|bolsa)|agregar\b.{0,16}\bcarrito|comprar|afegir\b.{0,16}\b(cistella|carret)|adicionar\b.{0,16}\b(carrinho|cesto|sacola)|in winkelwagen|in winkelmand|toevoegen aan|läg(g)? (i|till i) (varukorg|kundvagn)|köp|legg i handlekurv(en)?|kjøp|læg i kurv(en)?|køb|lisää (ostoskoriin|koriin)|osta|dodaj do koszyka|do koszyka|kup|přidat do košíku|do košíku|koupit|pridať do košíka|do košíka|kúpiť|kosárba|megveszem|adaugă în coș|cumpără|добави в|купи|добавить в корзину|в корзину|купить|додати (до|в) кошик|до кошика|προσθήκη στο καλάθι|στο καλάθι|sepete ekle|satın al|הוסף לסל|הוספה לסל|أضف إلى (السلة|العربة|سلة)|اشتر|カートに入れる|カートに追加|購入|加入购物车|加入購物車|购买|立即购买|장바구니|구매|thêm vào giỏ|mua ngay|เพิ่มลงตะกร้า|masukkan keranjang|tambah ke keranjang|beli|savatga/iu;

/** Names in addresses and attributes that mean the cart. */
export const CART_NAME =
  /(^|[^a-z])(cart|basket|bag|trolley|panier|warenkorb|einkaufswagen|carrello|carrito|cesta|carrinho|winkelwagen|winkelmand|varukorg|kundvagn|handlekurv|kurv|ostoskori|koszyk|kosik|kosar|cos|sepet)([^a-z]|$)/i;

export const CHECKOUT_NAME =
  /(^|[^a-z])(checkout|kasse|caisse|commande|cassa|finalizar|afrekenen|kassa|til-kassen|zamowienie|pokladna|penztar|payment|odeme)([^a-z]|$)/i;

/** Names of express pay. */
export const EXPRESS_NAME =
  /(express|swift|one-?click|instant|fast|quick|wallet|buy-?now).{0,12}(pay|buy|checkout)|pay (swiftly|fast|now|in one)|payer vite|sofort (be)?zahlen|paga subito|wallet-?button/i;

/** Words for buying at once, without a cart. */
export const AT_ONCE =
  /(^|[^\p{L}])(now|at once|right away|jetzt|sofort|direkt|maintenant|immédiatement|ahora|ya mismo|adesso|subito|agora|nu|nå|nyt|teraz|hned|ihned|azonnal|acum|сейчас|зараз|τώρα|şimdi|hemen|עכשיו|الآن)([^\p{L}]|$)|今すぐ|立即|马上|바로|ทันที/iu;
