// The shop's own script: choosing a size shows its price and stock.
const select = document.querySelector('select[name=variant]');
select?.addEventListener('change', () => {
  const { price, stock } = select.selectedOptions[0].dataset;
  document.querySelector('main.product .cost').textContent = price;
  document.querySelector('.stock-note').textContent = stock;
});
