import { pick, PICKER } from './pick.ts';
import { preview } from './preview.ts';
import type { Settings } from './settings.ts';

/** Code that pages load only for the owner, who comes with a token for the picker or a preview. */
export function open(settings: Settings): void {
  if ((location.hash + window.name).includes(PICKER)) pick(settings.origin);
  else preview(settings);
}
