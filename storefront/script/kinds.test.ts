import { describe, expect, it } from 'vitest';
import { CONTROLS } from '#core/controls/controls.ts';
import { RELABELS_SHOP_BUTTON, SELLS, TAKES_QUANTITY } from './kinds.ts';

const kindsThat = (has: (control: (typeof CONTROLS)[number]) => boolean | undefined) =>
  CONTROLS.filter(has).map(({ kind }) => kind);

describe('what the script knows of kinds', () => {
  it('is what their definitions say', () => {
    expect([...RELABELS_SHOP_BUTTON]).toEqual(kindsThat(({ relabelsShopButton }) => relabelsShopButton));
    expect([...SELLS]).toEqual(kindsThat(({ sells }) => sells));
    expect([...TAKES_QUANTITY]).toEqual(kindsThat(({ takesQuantity }) => takesQuantity));
  });
});
