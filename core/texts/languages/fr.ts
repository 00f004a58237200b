import type { Texts } from './en.ts';

/** The same in French. */
export const fr: Texts = {
  'label.choose': 'Voir les tailles et les prix',
  'refusal.unknownVariant': 'Cet article n’est plus en boutique. Merci de le retirer du panier.',
  'refusal.badQuantity': 'Merci de choisir un nombre entier, un ou plus.',
  'refusal.notForSale': 'Cet article ne peut pas être acheté ici pour le moment.',
  'refusal.signInFirst': 'Merci de vous connecter pour acheter cet article.',
  'refusal.membersOnly': 'Cet article n’est pas encore en vente pour votre compte.',
  'refusal.cartClosed': 'Le panier est fermé pour le moment.',
  'refusal.belowMinimum': 'Merci d’en prendre davantage : une quantité minimale s’applique.',
  'refusal.aboveMaximum': 'Merci d’en prendre moins : une quantité maximale s’applique.',
  'refusal.wrongStep': 'Cet article n’est vendu que par certaines quantités. Merci d’en choisir une autre.',
  'refusal.moreThanInvited': 'Votre tour sur la liste d’attente porte sur moins d’exemplaires.',
  'refusal.capReached': 'Il n’en reste pas autant à réserver.',
  'refusal.termsChanged':
    'Les conditions de cet article, ou sa date d’expédition, ont changé. Merci de les relire avant de commander.',
  'refusal.priceTooLow': 'Merci de proposer au moins le prix minimal de cet article.',
  'refusal.noExpress': 'Cet article ne peut pas être acheté en paiement express. Merci de passer par le panier.',
  'refusal.checkoutClosed': 'Aucune commande n’est prise pour le moment.',
  'refusal.orderWithheld': 'Cette commande ne peut pas être passée ici pour le moment.',
  'refusal.methodWithheld':
    'Cette commande ne peut pas être réglée ainsi. Merci de choisir un autre moyen de paiement.',
  'refusal.notEnoughStock': 'Il n’en reste pas autant.',
  'refusal.priceChanged': 'Le prix de cet article a changé. Merci de le vérifier avant d’acheter.',
  'status.waiting': 'Vous êtes au rang {position} sur la liste d’attente. [La quitter]({leave})',
  'status.invited': 'C’est votre tour : il vous est réservé jusqu’au {until}.',
  'status.invitedForGood': 'C’est votre tour : il vous est réservé.',
  'status.reserved': 'Vous en avez réservé {units}.',
  'status.asked': 'Vous avez demandé. Nous vous répondrons.',
  'ships.from': 'Expédition à partir du {from}.',
  'ships.until': 'Expédition au plus tard le {until}.',
  'ships.between': 'Expédition entre le {from} et le {until}.',
  'asking.asked': 'Merci. Nous avons votre question et vous répondrons par e-mail.',
  'asking.quoted': 'Merci. Nous avons votre demande et vous enverrons un prix.',
  'waitlist.confirm': 'Nous vous avons envoyé un lien. Suivez-le, et vous serez sur la liste.',
  'waitlist.noLetters':
    'Nous ne pouvons pas vous envoyer de lien pour le moment : vous n’êtes donc pas sur la liste. Connectez-vous ou écrivez-nous.',
  'waitlist.untilGone': 'jour où vous l’achetez, ou quittez la liste',
  'page.from': 'dès',
  'page.waiting': 'en attente',
  'dialog.waitlist': 'Rejoindre la liste d’attente',
  'dialog.email': 'Adresse e-mail',
  'dialog.name': 'Nom',
  'dialog.optional': 'facultatif',
  'dialog.join': 'Rejoindre',
  'dialog.accountFirst':
    'Cette liste est réservée aux titulaires d’un compte. Connectez-vous ou créez-en un, puis revenez.',
  'dialog.signIn': 'Se connecter',
  'dialog.enquiry': 'Poser une question',
  'dialog.quote': 'Demander un prix',
  'dialog.sheet': 'Demande de prix',
  'dialog.lines': 'Sur votre demande de prix',
  'dialog.emptySheet': 'La demande est vide.',
  'dialog.units': 'Unités',
  'dialog.note': 'Remarque',
  'dialog.takeOff': 'Retirer',
  'dialog.emptyIt': 'Vider la demande',
  'dialog.added': 'Ajouté. Continuez, ou envoyez la demande.',
  'dialog.onSheet': 'Cet article figure déjà sur votre demande. Changez la quantité ici.',
  'dialog.ownPrice': 'Fixez votre prix',
  'dialog.yourPrice': 'Votre prix à l’unité',
  'dialog.atLeast': 'au moins',
  'dialog.putIn': 'Ajouter au panier',
  'dialog.several': 'En choisir plusieurs',
  'dialog.putAllIn': 'Tout ajouter',
  'dialog.chooseSome': 'Indiquez une quantité pour au moins un.',
  'dialog.notPutIn': 'n’a pas pu être ajouté. Ce qui l’a été avant y reste.',
  'dialog.send': 'Envoyer',
  'dialog.close': 'Fermer',
  'dialog.busy': 'Un instant…',
  'dialog.unreached': 'Nous n’avons pas pu être joints. Rien n’est perdu : réessayez dans un instant.',
  'quotePage.asked': 'Votre demande de prix',
  'quotePage.priced': 'Votre devis',
  'quotePage.accepted': 'Votre devis, accepté',
  'quotePage.declined': 'Votre devis, refusé',
  'quotePage.turnedDown': 'Votre demande, déclinée',
  'quotePage.lapsed': 'Votre devis, expiré',
  'quotePage.goods': 'Articles',
  'quotePage.units': 'Unités',
  'quotePage.each': 'Prix unitaire',
  'quotePage.delivery': 'Livraison',
  'quotePage.total': 'Total',
  'quotePage.until': 'Valable jusqu’au',
  'quotePage.you': 'Vous',
  'quotePage.reply': 'Quelques mots pour nous',
  'quotePage.accept': 'Accepter',
  'quotePage.decline': 'Refuser',
  'quotePage.send': 'Envoyer le message',
  'quotePage.toBasket': 'Mettre au panier',
  'quotePage.changed':
    'Ce devis a été modifié pendant que vous le consultiez : rien n’a été accepté. Le voici tel qu’il est maintenant.',
  'quotePage.rest': 'Le reste suivra : tout n’a pas encore de prix.',
  'quotePage.acceptPart': 'Si vous acceptez maintenant, ce qui n’a pas encore de prix est laissé de côté.',
  'quotePage.follows': 'prix à venir',
  'quotePage.notAvailable': 'non disponible',
  'quotePage.expired': 'Ce devis n’est plus valable. Demandez un nouveau prix : nous vous l’enverrons.',
  'quotePage.askAgain': 'Demander un nouveau prix',
  'quotePage.over': 'Ce lien n’est plus valable',
  'listPage.join': 'M’inscrire sur la liste d’attente',
  'listPage.leave': 'Quitter la liste d’attente',
  'listPage.left': 'Vous n’êtes plus sur la liste d’attente.',
  'listPage.back': 'Retour à la boutique',
  'listPage.over': 'Ce lien n’est plus valable',
  'listPage.overWhy': 'Il a servi, ou son délai est passé. Retournez à la page du produit et recommencez.',
  'askPage.how': 'appelez-nous ou écrivez-nous en précisant ce que vous souhaitez. Nous répondons à chacun.',
  'message.pageMap.broken.subject': 'Understudy ne trouve plus un élément des pages de votre boutique',
  'message.pageMap.broken.body':
    'Une partie des pages de votre boutique n’est plus là où le plan l’indique : {parts}.\n\nEn attendant, la boutique y montre ses propres boutons ; le contrôle refuse toujours ce que vos règles retiennent.\n\n[Corriger]({link})',
  'message.waitlist.confirm.subject': 'Merci de confirmer : la liste d’attente pour {product}',
  'message.waitlist.confirm.body':
    'Quelqu’un, vous sans doute, a demandé à rejoindre la liste d’attente pour **{product}** avec cette adresse.\n\n[Oui, inscrivez-moi]({link})\n\nSi ce n’était pas vous, ne faites rien : cette adresse n’est conservée nulle part.\n\n{shop}',
  'message.waitlist.joined.subject': 'Vous êtes sur la liste d’attente pour {product}',
  'message.waitlist.joined.body':
    'Bonjour {name},\n\nvous êtes au rang **{position}** sur {length} de la liste d’attente pour **{product}**. Nous vous écrirons quand ce sera votre tour.\n\n[Quitter la liste]({leave})\n\n{shop}',
  'message.waitlist.invited.subject': 'C’est votre tour : {product}',
  'message.waitlist.invited.body':
    'Bonjour {name},\n\nvous attendiez **{product}**, et c’est votre tour. Il vous est réservé jusqu’au **{until}**.\n\n[L’acheter maintenant]({link})\n\nPlus intéressé ? [Le laisser à la personne suivante]({leave})\n\n{shop}',
  'message.waitlist.lapsed.subject': 'Votre tour est passé : {product}',
  'message.waitlist.lapsed.body':
    'Bonjour {name},\n\n**{product}** vous était réservé et le délai est écoulé : c’est le tour de la personne suivante. Vous pouvez rejoindre la liste quand vous le souhaitez.\n\n{shop}',
  'message.waitlist.new.subject': '{who} attend {product}',
  'message.waitlist.new.body':
    '**{who}** a rejoint la liste d’attente pour **{product}**, qui compte maintenant {length, plural, one {une personne} other {# personnes}}.\n\n[Voir la liste]({link})',
  'message.preorder.reserved.subject': 'Réservé pour vous : {product}',
  'message.preorder.reserved.body':
    'Bonjour {name},\n\nnous avons réservé **{units} × {product}** pour vous avec la commande {order}. {ships}\n\n{shop}',
  'message.preorder.moved.subject': 'Une nouvelle date pour {product}',
  'message.preorder.moved.body':
    'Bonjour {name},\n\nla date de **{units} × {product}** (commande {order}) a changé. {ships}\n\n{words}\n\n{shop}',
  'message.preorder.allocated.subject': 'C’est arrivé : {product}',
  'message.preorder.allocated.body':
    'Bonjour {name},\n\n**{units} × {product}** de la commande {order} sont arrivés et mis de côté pour vous. Nous vous les envoyons.\n\n{shop}',
  'message.preorder.cancelled.subject': 'Votre réservation de {product} est annulée',
  'message.preorder.cancelled.body':
    'Bonjour {name},\n\nla réservation de **{units} × {product}** (commande {order}) est annulée.\n\n{shop}',
  'message.enquiry.asked.subject': 'Votre question sur {product}',
  'message.enquiry.asked.body':
    'Bonjour {name},\n\nnous avons bien reçu votre question sur **{product}** et vous répondrons.\n\n{shop}',
  'message.enquiry.answered.subject': 'Notre réponse sur {product}',
  'message.enquiry.answered.body':
    'Bonjour {name},\n\nvous nous avez interrogés sur **{product}** :\n\n{words}\n\n{shop}',
  'message.enquiry.new.subject': '{who} a une question sur {product}',
  'message.enquiry.new.body':
    '**{who}** a une question sur **[{product}]({page})** :\n\n{words}\n\n[Répondre]({link}), ou répondez à cette lettre : elle ira à {email}.',
  'message.quote.asked.subject': 'Nous avons reçu votre demande de prix',
  'message.quote.asked.body':
    'Bonjour {name},\n\nnous chiffrerons {lines, plural, one {une ligne} other {# lignes}} et vous écrirons.\n\n[Voir votre demande]({link})\n\n{shop}',
  'message.quote.priced.subject': 'Votre devis : {total}',
  'message.quote.priced.body':
    'Bonjour {name},\n\nnous vous proposons ce que vous avez demandé à **{total}**, jusqu’au **{until}**.\n\n{products}\n\n{words}\n\n[Le voir, l’accepter ou le refuser]({link})\n\n{shop}',
  'message.quote.turnedDown.subject': 'À propos de votre demande de prix',
  'message.quote.turnedDown.body':
    'Bonjour {name},\n\nnous ne pouvons pas vous proposer ce que vous avez demandé.\n\n{words}\n\n{shop}',
  'message.quote.lapsed.subject': 'Votre devis a expiré',
  'message.quote.lapsed.body':
    'Bonjour {name},\n\nle devis de **{total}** n’est plus valable. N’hésitez pas à redemander.\n\n{shop}',
  'message.quote.new.subject': '{who} demande un prix',
  'message.quote.new.body':
    '**{who}** demande un prix pour {lines, plural, one {une ligne} other {# lignes}}.\n\n{products}\n\n[Chiffrer]({link}), ou répondez à cette lettre : elle ira à {email}.',
  'message.quote.answered.subject':
    '{who} {answer, select, accepted {a accepté le devis de {total}} declined {a refusé le devis de {total}} other {écrit au sujet du devis de {total}}}',
  'message.quote.answered.body':
    '**{who}** {answer, select, accepted {a accepté le devis de **{total}**} declined {a refusé le devis de **{total}**} other {écrit au sujet du devis de **{total}**}}.\n\n{words}\n\n[Le voir]({link})',
  'message.sellerRules.asked.subject': '{who} demande la publication de règles',
  'message.sellerRules.asked.body':
    '**{who}** a modifié ses règles et vous demande de les publier.\n\n[Voir la modification]({link})',
  'message.sellerRules.answered.subject':
    'Vos règles {answer, select, accepted {sont publiées} other {ne sont pas publiées}}',
  'message.sellerRules.answered.body':
    'La boutique {answer, select, accepted {a publié vos règles} other {n’a pas publié vos règles}}.\n\n{words}\n\n[Vos règles]({link})',
  'message.preorder.new.subject': '{who} a réservé {units} × {product}',
  'message.preorder.new.body':
    '**{who}** a réservé **{units} × {product}** avec la commande {order}.\n\n[Voir les précommandes]({link})',
  'message.insights.week.subject': 'La semaine passée chez {shop} : {finished, number} commandes et demandes',
  'message.insights.week.body':
    '**Ce qui était affiché :** {seen, number} boutons vus, dont {pressed, number} utilisés ({pressedBefore, number} la semaine d’avant).\n\n**Ce qui est arrivé :** {finished, number} commandes et demandes ({finishedBefore, number} la semaine d’avant). Par règle : {shown}\n\n**Ce qui attend :** sur liste d’attente : {waiting, number} · unités réservées : {reserved, number} · devis à chiffrer : {quotes, number} · questions à traiter : {enquiries, number}\n\n**Ce qui change cette semaine :** {changes}\n\n[Voir le bilan]({link})',
};
