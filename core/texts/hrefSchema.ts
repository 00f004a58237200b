import { z } from 'zod';
import { textFault } from './placeholders.ts';
import { isSafeHref, isWebHref, partsOfHref } from './href.ts';

const href = (isAllowed: (text: string) => boolean, allowed: string) =>
  z
    .string()
    .max(2000)
    .refine((text) => partsOfHref(text).ofProduct !== '' || isAllowed(text), allowed)
    .superRefine((text, context) => {
      const fault = textFault(text);
      if (fault) context.addIssue({ code: 'custom', message: fault });
    });

/** Target of a link. */
export const Href = href(isSafeHref, 'an address that begins with https://, http://, mailto:, tel: or /').meta({
  id: 'Href',
});

/** Target of a sign-in prompt. */
export const WebHref = href(isWebHref, 'an address that begins with https://, http:// or /').meta({ id: 'WebHref' });
