/**
 * Texts for shoppers, and the owner’s e-mails, in English: labels, answers, dialogs, our own pages, messages. Texts are ICU
 * MessageFormat; those of `status`, and message bodies, are Markdown. A key names the place of its text.
 */
export const en = {
  'label.choose': 'See sizes and prices',
  'refusal.unknownVariant': 'This item is no longer in the shop. Please remove it from your cart.',
  'refusal.badQuantity': 'Please choose a whole number of one or more.',
  'refusal.notForSale': 'This item cannot be bought here at the moment.',
  'refusal.signInFirst': 'Please sign in to buy this item.',
  'refusal.membersOnly': 'This item is not for sale to your account yet.',
  'refusal.cartClosed': 'The cart is closed at the moment.',
  'refusal.belowMinimum': 'Please add more of this item: there is a minimum quantity.',
  'refusal.aboveMaximum': 'Please choose fewer of this item: there is a maximum quantity.',
  'refusal.wrongStep': 'This item is only sold in certain quantities. Please choose another.',
  'refusal.moreThanInvited': 'Your turn on the waitlist is for fewer of this item.',
  'refusal.capReached': 'There are not that many left to reserve.',
  'refusal.termsChanged':
    'The terms of this item, or the date on which it ships, have changed. Please look at them again before you order.',
  'refusal.priceTooLow': 'Please offer at least the minimum price of this item.',
  'refusal.noExpress': 'This item cannot be bought with express pay. Please use the cart.',
  'refusal.checkoutClosed': 'No orders are taken at the moment.',
  'refusal.orderWithheld': 'This order cannot be placed here at the moment.',
  'refusal.methodWithheld': 'This order cannot be paid that way. Please choose another way to pay.',
  'refusal.notEnoughStock': 'We do not have that many left.',
  'refusal.priceChanged': 'The price of this item has changed. Please look at it again before you buy.',
  'status.waiting': 'You are number {position} on the waitlist. [Leave the list]({leave})',
  'status.invited': 'It is your turn: it is kept for you until {until}.',
  'status.invitedForGood': 'It is your turn: it is kept for you.',
  'status.reserved': 'You have reserved {units}.',
  'status.asked': 'You have asked. We will answer you.',
  'ships.from': 'It ships from {from}.',
  'ships.until': 'It ships by {until}.',
  'ships.between': 'It ships between {from} and {until}.',
  'asking.asked': 'Thank you. We have your question and will answer by e-mail.',
  'asking.quoted': 'Thank you. We have your request and will send you a price.',
  'waitlist.confirm': 'We have sent you a link. Follow it, and you are on the list.',
  'waitlist.noLetters':
    'We cannot send you a link at the moment, so you are not on the list. Please sign in, or write to us.',
  'waitlist.untilGone': 'you buy it, or leave the list',
  'page.from': 'from',
  'page.waiting': 'waiting',
  'dialog.waitlist': 'Join the waitlist',
  'dialog.email': 'E-mail',
  'dialog.name': 'Name',
  'dialog.optional': 'optional',
  'dialog.join': 'Join',
  'dialog.accountFirst': 'This list is for customers with an account. Sign in or create one, then come back.',
  'dialog.signIn': 'Sign in',
  'dialog.enquiry': 'Ask about this',
  'dialog.quote': 'Ask for a price',
  'dialog.sheet': 'Quote sheet',
  'dialog.lines': 'On your quote sheet',
  'dialog.emptySheet': 'Nothing is on the sheet.',
  'dialog.units': 'Units',
  'dialog.note': 'Note',
  'dialog.takeOff': 'Remove',
  'dialog.emptyIt': 'Empty the sheet',
  'dialog.added': 'Added. Go on looking, or send the sheet.',
  'dialog.onSheet': 'This is on your sheet already. Change the quantity here.',
  'dialog.ownPrice': 'Name your price',
  'dialog.yourPrice': 'Your price for one',
  'dialog.atLeast': 'at least',
  'dialog.putIn': 'Add to cart',
  'dialog.several': 'Choose several',
  'dialog.putAllIn': 'Add to cart',
  'dialog.chooseSome': 'Enter a quantity for at least one.',
  'dialog.notPutIn': 'could not be added. What was added before stays in the cart.',
  'dialog.send': 'Send',
  'dialog.close': 'Close',
  'dialog.busy': 'One moment…',
  'dialog.unreached': 'We could not be reached. Nothing is lost: try again in a moment.',
  'quotePage.asked': 'Your request for a price',
  'quotePage.priced': 'Your quote',
  'quotePage.accepted': 'Your quote, accepted',
  'quotePage.declined': 'Your quote, declined',
  'quotePage.turnedDown': 'Your request, turned down',
  'quotePage.lapsed': 'Your quote, lapsed',
  'quotePage.goods': 'Products',
  'quotePage.units': 'Units',
  'quotePage.each': 'Each',
  'quotePage.delivery': 'Delivery',
  'quotePage.total': 'Total',
  'quotePage.until': 'Good until',
  'quotePage.you': 'You',
  'quotePage.reply': 'A message to us',
  'quotePage.accept': 'Accept',
  'quotePage.decline': 'Decline',
  'quotePage.send': 'Send message',
  'quotePage.toBasket': 'Add to cart',
  'quotePage.changed':
    'This quote was changed while you looked at it, so nothing was accepted. This is how it stands now.',
  'quotePage.rest': 'The rest follows: not everything has a price yet.',
  'quotePage.acceptPart': 'If you accept now, what has no price yet is left out.',
  'quotePage.follows': 'price follows',
  'quotePage.notAvailable': 'not available',
  'quotePage.expired': 'This quote is no longer valid. Ask for a new price, and we will send you one.',
  'quotePage.askAgain': 'Ask for a new price',
  'quotePage.over': 'This link has expired',
  'listPage.join': 'Put me on the waitlist',
  'listPage.leave': 'Leave the waitlist',
  'listPage.left': 'You are no longer on the waitlist.',
  'listPage.back': 'Back to the shop',
  'listPage.over': 'This link has expired',
  'listPage.overWhy': 'It was used up, or its time has passed. Go to the product’s page in the shop and ask again.',
  'askPage.how': 'please telephone or write to us, and say what you would like. We answer everybody.',
  'message.pageMap.broken.subject': 'Understudy no longer finds something on your shop’s pages',
  'message.pageMap.broken.body':
    'A part of your shop’s pages is not where the page map says: {parts}.\n\nUntil it is put right, the shop shows its own controls there; the guard still refuses what your rules withhold.\n\n[Put it right]({link})',
  'message.waitlist.confirm.subject': 'Please confirm: the waitlist for {product}',
  'message.waitlist.confirm.body':
    'Somebody, we hope you, asked to join the waitlist for **{product}** with this address.\n\n[Yes, put me on the list]({link})\n\nIf it was not you, do nothing: this address is kept nowhere.\n\n{shop}',
  'message.waitlist.joined.subject': 'You are on the waitlist for {product}',
  'message.waitlist.joined.body':
    'Hello {name},\n\nyou are number **{position}** of {length} on the waitlist for **{product}**. We write to you when it is your turn.\n\n[Leave the list]({leave})\n\n{shop}',
  'message.waitlist.invited.subject': 'It is your turn: {product}',
  'message.waitlist.invited.body':
    'Hello {name},\n\nyou waited for **{product}**, and it is your turn. It is kept for you until **{until}**.\n\n[Buy it now]({link})\n\nNo longer interested? [Let the next person have it]({leave})\n\n{shop}',
  'message.waitlist.lapsed.subject': 'Your turn has passed: {product}',
  'message.waitlist.lapsed.body':
    'Hello {name},\n\n**{product}** was kept for you, and the time is over, so the next person has their turn. You may join the list again whenever you like.\n\n{shop}',
  'message.waitlist.new.subject': '{who} waits for {product}',
  'message.waitlist.new.body':
    '**{who}** joined the waitlist for **{product}**, which now has {length, plural, one {one person} other {# people}}.\n\n[See the list]({link})',
  'message.preorder.reserved.subject': 'Reserved for you: {product}',
  'message.preorder.reserved.body':
    'Hello {name},\n\nwe have reserved **{units} × {product}** for you with order {order}. {ships}\n\n{shop}',
  'message.preorder.moved.subject': 'A new date for {product}',
  'message.preorder.moved.body':
    'Hello {name},\n\nthe date of **{units} × {product}** (order {order}) has moved. {ships}\n\n{words}\n\n{shop}',
  'message.preorder.allocated.subject': 'It is here: {product}',
  'message.preorder.allocated.body':
    'Hello {name},\n\n**{units} × {product}** of order {order} are here and set aside for you. We send them next.\n\n{shop}',
  'message.preorder.cancelled.subject': 'Your reservation of {product} is cancelled',
  'message.preorder.cancelled.body':
    'Hello {name},\n\nthe reservation of **{units} × {product}** (order {order}) is cancelled.\n\n{shop}',
  'message.enquiry.asked.subject': 'Your question about {product}',
  'message.enquiry.asked.body':
    'Hello {name},\n\nwe have your question about **{product}** and will answer you.\n\n{shop}',
  'message.enquiry.answered.subject': 'Our answer about {product}',
  'message.enquiry.answered.body': 'Hello {name},\n\nyou asked about **{product}**:\n\n{words}\n\n{shop}',
  'message.enquiry.new.subject': '{who} asks about {product}',
  'message.enquiry.new.body':
    '**{who}** asks about **[{product}]({page})**:\n\n{words}\n\n[Answer]({link}), or reply to this e-mail: it goes to {email}.',
  'message.quote.asked.subject': 'We have your request for a price',
  'message.quote.asked.body':
    'Hello {name},\n\nwe will price {lines, plural, one {one line} other {# lines}} and write to you.\n\n[See your request]({link})\n\n{shop}',
  'message.quote.priced.subject': 'Your quote: {total}',
  'message.quote.priced.body':
    'Hello {name},\n\nwe offer you what you asked for at **{total}**, until **{until}**.\n\n{products}\n\n{words}\n\n[See, accept or decline it]({link})\n\n{shop}',
  'message.quote.turnedDown.subject': 'About your request for a price',
  'message.quote.turnedDown.body': 'Hello {name},\n\nwe cannot offer you what you asked for.\n\n{words}\n\n{shop}',
  'message.quote.lapsed.subject': 'Your quote has lapsed',
  'message.quote.lapsed.body':
    'Hello {name},\n\nthe quote of **{total}** is no longer good. Ask again whenever you like.\n\n{shop}',
  'message.quote.new.subject': '{who} asks for a price',
  'message.quote.new.body':
    '**{who}** has requested a price for {lines, plural, one {one item} other {# items}}.\n\n{products}\n\n[Price it]({link}), or reply to this e-mail: it goes to {email}.',
  'message.quote.answered.subject':
    '{who} {answer, select, accepted {accepted} declined {declined} other {replied about}} the quote of {total}',
  'message.quote.answered.body':
    '**{who}** {answer, select, accepted {accepted} declined {declined} other {replied about}} the quote of **{total}**.\n\n{words}\n\n[See it]({link})',
  'message.sellerRules.asked.subject': '{who} asks to publish rules',
  'message.sellerRules.asked.body':
    '**{who}** has changed their rules and asks you to publish them.\n\n[Look at the change]({link})',
  'message.sellerRules.answered.subject':
    'Your rules were {answer, select, accepted {published} other {not published}}',
  'message.sellerRules.answered.body':
    'The shop has {answer, select, accepted {published your rules} other {not published your rules}}.\n\n{words}\n\n[Your rules]({link})',
  'message.preorder.new.subject': '{who} reserved {units} × {product}',
  'message.preorder.new.body':
    '**{who}** reserved **{units} × {product}** with order {order}.\n\n[See the pre-orders]({link})',
  'message.insights.week.subject': 'Last week at {shop}: {finished, number} orders and requests',
  'message.insights.week.body':
    '**What was on:** {seen, number} buttons seen, {pressed, number} of them pressed ({pressedBefore, number} the week before).\n\n**What came in:** {finished, number} orders and requests ({finishedBefore, number} the week before). By rule: {shown}\n\n**What waits:** on waitlists: {waiting, number} · units reserved: {reserved, number} · quotes to price: {quotes, number} · enquiries to answer: {enquiries, number}\n\n**What changes this week:** {changes}\n\n[See Insights]({link})',
} as const;

export type TextKey = keyof typeof en;
export type Texts = Readonly<Record<TextKey, string>>;
