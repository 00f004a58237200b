import type { Texts } from './en.ts';

/** The same in German. */
export const de: Texts = {
  'label.choose': 'Größen und Preise ansehen',
  'refusal.unknownVariant': 'Dieser Artikel ist nicht mehr im Shop. Bitte nehmen Sie ihn aus dem Warenkorb.',
  'refusal.badQuantity': 'Bitte wählen Sie eine ganze Zahl ab eins.',
  'refusal.notForSale': 'Dieser Artikel kann hier zurzeit nicht gekauft werden.',
  'refusal.signInFirst': 'Bitte melden Sie sich an, um diesen Artikel zu kaufen.',
  'refusal.membersOnly': 'Dieser Artikel ist für Ihr Konto noch nicht erhältlich.',
  'refusal.cartClosed': 'Der Warenkorb ist zurzeit geschlossen.',
  'refusal.belowMinimum': 'Bitte nehmen Sie mehr davon: Es gilt eine Mindestmenge.',
  'refusal.aboveMaximum': 'Bitte nehmen Sie weniger davon: Es gilt eine Höchstmenge.',
  'refusal.wrongStep': 'Diesen Artikel gibt es nur in bestimmten Mengen. Bitte wählen Sie eine andere.',
  'refusal.moreThanInvited': 'Ihr Platz auf der Warteliste gilt für weniger Stück.',
  'refusal.capReached': 'So viele sind nicht mehr zu reservieren.',
  'refusal.termsChanged':
    'Die Bedingungen oder das Versanddatum dieses Artikels haben sich geändert. Bitte sehen Sie sie sich vor dem Bestellen noch einmal an.',
  'refusal.priceTooLow': 'Bitte bieten Sie mindestens den Mindestpreis dieses Artikels.',
  'refusal.noExpress': 'Dieser Artikel kann nicht mit Expresszahlung gekauft werden. Bitte nehmen Sie den Warenkorb.',
  'refusal.checkoutClosed': 'Zurzeit werden keine Bestellungen angenommen.',
  'refusal.orderWithheld': 'Diese Bestellung kann hier zurzeit nicht aufgegeben werden.',
  'refusal.methodWithheld':
    'Diese Bestellung kann nicht auf diese Weise bezahlt werden. Bitte wählen Sie eine andere Zahlungsart.',
  'refusal.notEnoughStock': 'So viele haben wir nicht mehr.',
  'refusal.priceChanged':
    'Der Preis dieses Artikels hat sich geändert. Bitte sehen Sie ihn sich vor dem Kauf noch einmal an.',
  'status.waiting': 'Sie stehen auf Platz {position} der Warteliste. [Liste verlassen]({leave})',
  'status.invited': 'Sie sind an der Reihe: Wir halten es bis {until} für Sie zurück.',
  'status.invitedForGood': 'Sie sind an der Reihe: Wir halten es für Sie zurück.',
  'status.reserved': 'Sie haben {units} reserviert.',
  'status.asked': 'Sie haben gefragt. Wir antworten Ihnen.',
  'ships.from': 'Versand ab {from}.',
  'ships.until': 'Versand bis spätestens {until}.',
  'ships.between': 'Versand zwischen {from} und {until}.',
  'asking.asked': 'Danke. Wir haben Ihre Frage und antworten per E-Mail.',
  'asking.quoted': 'Danke. Wir haben Ihre Anfrage und senden Ihnen einen Preis.',
  'waitlist.confirm': 'Wir haben Ihnen einen Link geschickt. Folgen Sie ihm, dann stehen Sie auf der Liste.',
  'waitlist.noLetters':
    'Wir können Ihnen im Moment keinen Link schicken; Sie stehen daher nicht auf der Liste. Bitte melden Sie sich an oder schreiben Sie uns.',
  'waitlist.untilGone': 'Sie es kaufen oder die Liste verlassen',
  'page.from': 'ab',
  'page.waiting': 'warten',
  'dialog.waitlist': 'Auf die Warteliste',
  'dialog.email': 'E-Mail',
  'dialog.name': 'Name',
  'dialog.optional': 'freiwillig',
  'dialog.join': 'Eintragen',
  'dialog.accountFirst':
    'Diese Liste ist für Kunden mit Konto. Melden Sie sich an oder legen Sie eines an, und kommen Sie dann zurück.',
  'dialog.signIn': 'Anmelden',
  'dialog.enquiry': 'Frage stellen',
  'dialog.quote': 'Preis anfragen',
  'dialog.sheet': 'Preisanfrage',
  'dialog.lines': 'In Ihrer Preisanfrage',
  'dialog.emptySheet': 'Die Anfrage ist leer.',
  'dialog.option': 'Ausführung',
  'dialog.units': 'Stück',
  'dialog.note': 'Anmerkung',
  'dialog.takeOff': 'Entfernen',
  'dialog.emptyIt': 'Anfrage leeren',
  'dialog.added': 'Hinzugefügt. Sehen Sie sich weiter um, oder senden Sie die Anfrage.',
  'dialog.onSheet': 'Das steht schon in Ihrer Anfrage. Ändern Sie hier die Menge.',
  'dialog.ownPrice': 'Nennen Sie Ihren Preis',
  'dialog.yourPrice': 'Ihr Preis pro Stück',
  'dialog.atLeast': 'mindestens',
  'dialog.putIn': 'In den Warenkorb',
  'dialog.several': 'Mehrere auswählen',
  'dialog.putAllIn': 'In den Warenkorb',
  'dialog.chooseSome': 'Geben Sie für mindestens eines eine Menge ein.',
  'dialog.notPutIn': 'konnte nicht hinzugefügt werden. Was vorher hinzukam, bleibt im Warenkorb.',
  'dialog.send': 'Senden',
  'dialog.close': 'Schließen',
  'dialog.busy': 'Einen Moment…',
  'dialog.unreached': 'Wir waren nicht zu erreichen. Nichts ist verloren: Versuchen Sie es gleich noch einmal.',
  'quotePage.asked': 'Ihre Preisanfrage',
  'quotePage.priced': 'Ihr Angebot',
  'quotePage.accepted': 'Ihr Angebot, angenommen',
  'quotePage.declined': 'Ihr Angebot, abgelehnt',
  'quotePage.turnedDown': 'Ihre Anfrage, abgelehnt',
  'quotePage.lapsed': 'Ihr Angebot, abgelaufen',
  'quotePage.goods': 'Artikel',
  'quotePage.units': 'Stück',
  'quotePage.each': 'Einzelpreis',
  'quotePage.delivery': 'Lieferung',
  'quotePage.total': 'Summe',
  'quotePage.until': 'Gültig bis',
  'quotePage.you': 'Sie',
  'quotePage.reply': 'Ein paar Worte an uns',
  'quotePage.accept': 'Annehmen',
  'quotePage.decline': 'Ablehnen',
  'quotePage.send': 'Nachricht senden',
  'quotePage.toBasket': 'In den Warenkorb',
  'quotePage.changed':
    'Dieses Angebot wurde geändert, während Sie es ansahen; es wurde nichts angenommen. So lautet es jetzt.',
  'quotePage.rest': 'Der Rest folgt: Noch hat nicht alles einen Preis.',
  'quotePage.acceptPart': 'Wenn Sie jetzt annehmen, entfällt, was noch keinen Preis hat.',
  'quotePage.follows': 'Preis folgt',
  'quotePage.notAvailable': 'nicht verfügbar',
  'quotePage.expired': 'Dieses Angebot gilt nicht mehr. Fragen Sie neu an, und wir schicken Ihnen einen neuen Preis.',
  'quotePage.askAgain': 'Neu anfragen',
  'quotePage.over': 'Dieser Link ist abgelaufen',
  'listPage.join': 'Auf die Warteliste setzen',
  'listPage.leave': 'Warteliste verlassen',
  'listPage.left': 'Sie stehen nicht mehr auf der Warteliste.',
  'listPage.back': 'Zurück zum Shop',
  'listPage.over': 'Dieser Link ist abgelaufen',
  'listPage.overWhy':
    'Er wurde schon benutzt, oder seine Zeit ist um. Gehen Sie zur Seite des Artikels im Shop und fragen Sie erneut.',
  'askPage.how': 'bitte rufen Sie uns an oder schreiben Sie uns, was Sie möchten. Wir antworten allen.',
  'message.pageMap.broken.subject': 'Understudy findet etwas auf den Seiten Ihres Shops nicht mehr',
  'message.pageMap.broken.body':
    'Ein Teil der Seiten Ihres Shops ist nicht dort, wo die Seitenkarte ihn nennt: {parts}.\n\nBis das behoben ist, zeigt der Shop dort seine eigenen Schaltflächen; der Server lehnt weiterhin ab, was Ihre Regeln zurückhalten.\n\n[Beheben]({link})',
  'message.waitlist.confirm.subject': 'Bitte bestätigen: Warteliste für {product}',
  'message.waitlist.confirm.body':
    'Jemand, hoffentlich Sie, möchte mit dieser Adresse auf die Warteliste für **{product}**.\n\n[Ja, setzen Sie mich auf die Liste]({link})\n\nWenn Sie es nicht waren, tun Sie nichts: Diese Adresse wird nirgends gespeichert.\n\n{shop}',
  'message.waitlist.joined.subject': 'Sie stehen auf der Warteliste für {product}',
  'message.waitlist.joined.body':
    'Guten Tag {name},\n\nSie stehen auf Platz **{position}** von {length} der Warteliste für **{product}**. Wir schreiben Ihnen, wenn Sie an der Reihe sind.\n\n[Liste verlassen]({leave})\n\n{shop}',
  'message.waitlist.invited.subject': 'Sie sind an der Reihe: {product}',
  'message.waitlist.invited.body':
    'Guten Tag {name},\n\nSie haben auf **{product}** gewartet, und Sie sind an der Reihe. Wir halten es für Sie zurück, bis **{until}**.\n\n[Jetzt kaufen]({link})\n\nKein Interesse mehr? [Dem Nächsten überlassen]({leave})\n\n{shop}',
  'message.waitlist.lapsed.subject': 'Ihre Zeit ist abgelaufen: {product}',
  'message.waitlist.lapsed.body':
    'Guten Tag {name},\n\n**{product}** war für Sie zurückgehalten, und die Zeit ist um; nun ist die nächste Person an der Reihe. Sie können sich jederzeit wieder eintragen.\n\n{shop}',
  'message.waitlist.new.subject': '{who} wartet auf {product}',
  'message.waitlist.new.body':
    '**{who}** steht jetzt auf der Warteliste für **{product}**, mit insgesamt {length, plural, one {einer Person} other {# Personen}}.\n\n[Liste ansehen]({link})',
  'message.preorder.reserved.subject': 'Für Sie reserviert: {product}',
  'message.preorder.reserved.body':
    'Guten Tag {name},\n\nwir haben **{units} × {product}** mit der Bestellung {order} für Sie reserviert. {ships}\n\n{shop}',
  'message.preorder.moved.subject': 'Ein neues Datum für {product}',
  'message.preorder.moved.body':
    'Guten Tag {name},\n\ndas Datum für **{units} × {product}** (Bestellung {order}) hat sich geändert. {ships}\n\n{words}\n\n{shop}',
  'message.preorder.allocated.subject': 'Es ist da: {product}',
  'message.preorder.allocated.body':
    'Guten Tag {name},\n\n**{units} × {product}** der Bestellung {order} sind da und für Sie zurückgelegt. Wir senden sie als Nächstes.\n\n{shop}',
  'message.preorder.cancelled.subject': 'Ihre Reservierung von {product} ist storniert',
  'message.preorder.cancelled.body':
    'Guten Tag {name},\n\ndie Reservierung von **{units} × {product}** (Bestellung {order}) ist storniert.\n\n{shop}',
  'message.enquiry.asked.subject': 'Ihre Frage zu {product}',
  'message.enquiry.asked.body':
    'Guten Tag {name},\n\nwir haben Ihre Frage zu **{product}** und antworten Ihnen.\n\n{shop}',
  'message.enquiry.answered.subject': 'Unsere Antwort zu {product}',
  'message.enquiry.answered.body': 'Guten Tag {name},\n\nSie haben nach **{product}** gefragt:\n\n{words}\n\n{shop}',
  'message.enquiry.new.subject': '{who} fragt nach {product}',
  'message.enquiry.new.body':
    '**{who}** fragt nach **[{product}]({page})**:\n\n{words}\n\n[Antworten]({link}), oder antworten Sie auf diese E-Mail: Sie geht an {email}.',
  'message.quote.asked.subject': 'Wir haben Ihre Preisanfrage',
  'message.quote.asked.body':
    'Guten Tag {name},\n\nwir berechnen {lines, plural, one {eine Position} other {# Positionen}} und schreiben Ihnen.\n\n[Anfrage ansehen]({link})\n\n{shop}',
  'message.quote.priced.subject': 'Ihr Angebot: {total}',
  'message.quote.priced.body':
    'Guten Tag {name},\n\nwir bieten Ihnen das Gewünschte für **{total}** an, gültig bis **{until}**.\n\n{products}\n\n{words}\n\n[Ansehen, annehmen oder ablehnen]({link})\n\n{shop}',
  'message.quote.turnedDown.subject': 'Zu Ihrer Preisanfrage',
  'message.quote.turnedDown.body':
    'Guten Tag {name},\n\nwir können Ihnen das Gewünschte nicht anbieten.\n\n{words}\n\n{shop}',
  'message.quote.lapsed.subject': 'Ihr Angebot ist abgelaufen',
  'message.quote.lapsed.body':
    'Guten Tag {name},\n\ndas Angebot über **{total}** gilt nicht mehr. Fragen Sie gern jederzeit neu an.\n\n{shop}',
  'message.quote.new.subject': '{who} fragt nach einem Preis',
  'message.quote.new.body':
    '**{who}** fragt nach einem Preis für {lines, plural, one {eine Position} other {# Positionen}}.\n\n{products}\n\n[Berechnen]({link}), oder antworten Sie auf diese E-Mail: Sie geht an {email}.',
  'message.quote.answered.subject':
    '{who} hat {answer, select, accepted {das Angebot über {total} angenommen} declined {das Angebot über {total} abgelehnt} other {zum Angebot über {total} geschrieben}}',
  'message.quote.answered.body':
    '**{who}** hat {answer, select, accepted {das Angebot über **{total}** angenommen} declined {das Angebot über **{total}** abgelehnt} other {zum Angebot über **{total}** geschrieben}}.\n\n{words}\n\n[Ansehen]({link})',
  'message.sellerRules.asked.subject': '{who} möchte Regeln veröffentlichen',
  'message.sellerRules.asked.body':
    '**{who}** hat Regeln geändert und bittet Sie, sie zu veröffentlichen.\n\n[Änderung ansehen]({link})',
  'message.sellerRules.answered.subject':
    'Ihre Regeln wurden {answer, select, accepted {veröffentlicht} reverted {zurückgesetzt} other {nicht veröffentlicht}}',
  'message.sellerRules.answered.body':
    'Der Shop hat Ihre Regeln {answer, select, accepted {veröffentlicht} reverted {auf eine frühere Veröffentlichung zurückgesetzt} other {nicht veröffentlicht}}.\n\n{words}\n\n[Ihre Regeln]({link})',
  'message.preorder.new.subject': '{who} hat {units} × {product} reserviert',
  'message.preorder.new.body':
    '**{who}** hat **{units} × {product}** mit der Bestellung {order} reserviert.\n\n[Vorbestellungen ansehen]({link})',
  'message.insights.week.subject': 'Letzte Woche bei {shop}: {finished, number} Bestellungen und Anfragen',
  'message.insights.week.body':
    '**Was zu sehen war:** {seen, number} Schaltflächen gesehen, davon {pressed, number} gedrückt (in der Woche davor {pressedBefore, number}).\n\n**Was hereinkam:** {finished, number} Bestellungen und Anfragen (in der Woche davor {finishedBefore, number}). Nach Regel: {shown}\n\n**Was wartet:** auf Wartelisten: {waiting, number} · reservierte Stück: {reserved, number} · Angebote zu erstellen: {quotes, number} · Fragen zu beantworten: {enquiries, number}\n\n**Was sich diese Woche ändert:** {changes}\n\n[Zur Auswertung]({link})',
};
