import { start } from './page.ts';
import { quietly } from './quietly.ts';
import type { Settings } from './settings.ts';

/** Exports of owner.ts, a separate module. */
interface ForTheOwner {
  readonly open: (settings: Settings) => void;
}

quietly(() => {
  const settings = '__UNDERSTUDY_SETTINGS__' as unknown as Settings;
  // Only the owner comes so: to pick where things are, or to look at a preview.
  if ((location.hash + window.name).includes('understudy-'))
    void (import(`${settings.origin}/owner.js`) as Promise<ForTheOwner>).then(({ open }) => {
      open(settings);
    });
  else start(settings);
});
