// Custom elements; their shadow roots came with the page.
class NurseryBuying extends HTMLElement {
  connectedCallback() {
    this.shadowRoot.addEventListener('change', ({ target }) => {
      if (target.name !== 'variant') return;
      this.shadowRoot.querySelector('[part=money]').textContent = target.dataset.price;
      this.shadowRoot.querySelector('[part=stock]').textContent = target.dataset.stock;
      this.dispatchEvent(
        new CustomEvent('size-chosen', { bubbles: true, composed: true, detail: { size: { id: target.value } } }),
      );
    });
  }
}
class NurseryCard extends HTMLElement {
  connectedCallback() {
    this.shadowRoot.querySelector('[data-glance]').addEventListener('click', async () => {
      const glance = document.createElement('nursery-glance');
      glance.setHTMLUnsafe(await (await fetch(`/glance${this.dataset.href}`)).text());
      document.body.append(glance);
    });
  }
}
class NurseryGlance extends HTMLElement {
  connectedCallback() {
    this.setAttribute('role', 'dialog');
    this.classList.add('glance', 'overlay');
    this.querySelector('.close').addEventListener('click', () => this.remove());
    this.querySelector('.close').focus();
  }
}
customElements.define('nursery-buying', NurseryBuying);
customElements.define('nursery-card', NurseryCard);
customElements.define('nursery-glance', NurseryGlance);
customElements.define('nursery-till', class extends HTMLElement {});
customElements.define('nursery-border', class extends HTMLElement {});
