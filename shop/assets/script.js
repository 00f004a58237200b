// Everything is drawn here, and drawn anew at every choice. Links are followed without loading a page.
const escaped = (text) => String(text).replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
const markup = (parts, ...values) =>
  parts.reduce((before, part, index) => before + (values[index - 1].raw ?? escaped(values[index - 1])) + part);
const raw = (text) => ({ raw: text });
const several = (items, draw) => raw(items.map(draw).join(''));

const draw = {
  shelf: (goods) =>
    markup`<div class="grid_k3x9a shelf">${several(
      goods,
      ({ path, title, picture, price, soldAt, variants, words }) => markup`
      <article class="c_9f2ab shelf-item" data-item>
        <a class="l_77aa1 shelf-link" href="${path}">
          <img src="${picture}" alt="" width="320" height="240"><span class="name">${title}</span></a>
        <div class="o_5c6d7 shelf-offer"><span class="p_1b2c3 cost" data-amount>${price}</span>
        ${
          soldAt === null
            ? raw(markup`<form method="post" action="/basket/add"><input type="hidden" name="variant" value="${variants[0].id}">
              <button class="b_x7f3a look" data-add>${words.add}</button></form>`)
            : raw(markup`<a class="b_x7f3a look" data-add href="${soldAt}">${words.add}</a>`)
        }
        <button class="quick-look quiet" data-look="${JSON.stringify({ path })}" aria-label="${words.look}: ${title}">${words.look}</button></div>
      </article>`,
    )}</div>`,

  buying: ({ title, seller, soldAt, variants, words }, chosen, units) => {
    const variant = variants.find(({ id }) => id === chosen) ?? variants[0];
    const form = markup`<form method="post" action="/basket/add">
        <input type="hidden" name="variant" value="${variant.id}">
        <div role="group" aria-label="${words.size}" class="sizes">${several(
          variants.length > 1 ? variants : [],
          ({ id, title }) =>
            markup`<button type="button" class="s_4d5e6" data-size="${id}" aria-pressed="${id === variant.id}">${title}</button>`,
        )}</div>
        <p class="st_8c9d0 stock-note" data-stock>${variant.stock}</p>
        <label>${words.quantity} <input type="number" name="quantity" value="${units}" min="1" max="999"></label>
        <div class="buttons"><button class="b_x7f3a look" data-add>${words.add}</button>
          <button class="e_5a6b7 swift-pay" data-swift formaction="/swift-pay">${words.pay}</button></div>
      </form>`;
    return markup`<section class="buy-area a_2e3f4"><h1>${title}</h1><p class="seller">${seller}</p>
      <p class="p_1b2c3 cost" data-amount>${variant.price}</p>
      ${raw(soldAt === null ? form : markup`<p><a class="b_x7f3a look" data-add href="${soldAt}">${words.add}</a></p>`)}
      <p class="details" data-details>${words.details}</p></section>`;
  },

  border: ({ rows, all }) =>
    markup`<form method="post" action="/basket/add-several" class="border"><ul>${several(
      rows,
      ({ path, title, price, variants, words }) => markup`<li class="r_6f7a8 border-row" data-row>
        <a href="${path}">${title}</a> <span class="cost" data-amount>${price}</span>
        <input type="hidden" name="variant" value="${variants[0].id}">
        <input data-units type="number" name="quantity" value="0" min="0" max="99" aria-label="${words.quantity}: ${title}">
      </li>`,
    )}</ul><button class="look" data-add-all>${all}</button></form>`,
};

function drawAll(root = document) {
  for (const place of root.querySelectorAll('[data-draw]')) redraw(place, chosenInAddress());
}
function redraw(place, chosen, units = 1) {
  place.innerHTML = draw[place.dataset.draw](JSON.parse(place.dataset.goods), chosen, units);
}
const chosenInAddress = () => new URLSearchParams(location.search).get('size');

addEventListener('click', async (event) => {
  const { target } = event;
  const size = target.closest('[data-size]');
  const look = target.closest('[data-look]');
  const link = target.closest('a[href^="/"]');
  if (size) {
    const place = size.closest('[data-draw]');
    const units = place.querySelector('[name=quantity]').value;
    redraw(place, size.dataset.size, units);
    place.querySelector(`[data-size="${size.dataset.size}"]`).focus();
    if (!place.closest('.glance')) history.replaceState(null, '', `?size=${encodeURIComponent(size.dataset.size)}`);
  } else if (look) {
    const { path } = JSON.parse(look.dataset.look);
    const glance = document.createElement('div');
    glance.className = 'glance overlay';
    glance.setAttribute('role', 'dialog');
    glance.innerHTML = await (await fetch(`/glance${path}`)).text();
    document.body.append(glance);
    drawAll(glance);
    glance.querySelector('.close').focus();
  } else if (target.matches('.glance .close')) target.closest('.glance').remove();
  else if (link && !event.metaKey && !event.ctrlKey && !link.target) {
    event.preventDefault();
    await go(link.href);
    history.pushState(null, '', link.href);
    settle();
  }
});
addEventListener('popstate', async () => {
  await go(location.href);
  settle();
});

let next;
async function go(address) {
  next = new DOMParser().parseFromString(await (await fetch(address)).text(), 'text/html');
}
/** Puts the page that was fetched in place of this one. */
function settle() {
  document.title = next.title;
  document.body.replaceWith(next.body);
  const { cart, visitor } = next.querySelector('script[data-locale]').dataset;
  globalThis.understudy?.refresh({ cart: JSON.parse(cart ?? '[]'), visitor });
  drawAll();
  scrollTo(0, 0);
}
drawAll();
