// Plain forms: choosing a size shows its price and stock, and a quick look opens in a dialog.
addEventListener('change', ({ target }) => {
  if (!target.matches('select[name=variant]')) return;
  const { price, stock } = target.selectedOptions[0].dataset;
  const area = target.closest('.buy-area');
  area.querySelector('.cost').textContent = price;
  area.querySelector('.stock-note').textContent = stock;
});
addEventListener('click', async ({ target }) => {
  const path = target.dataset?.glance;
  if (path) {
    const dialog = document.createElement('dialog');
    dialog.className = 'glance';
    dialog.innerHTML = await (await fetch(`/glance${path}`)).text();
    dialog.addEventListener('close', () => dialog.remove());
    document.body.append(dialog);
    dialog.showModal();
  } else if (target.matches('.glance .close')) target.closest('dialog').close();
});
