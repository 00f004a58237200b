import { z } from 'zod';
import { patternSource, type PathPattern } from './pathPattern.ts';

const Selector = z.string().trim().min(1).max(500);
/** A list of CSS selectors, as CSS writes lists: `.buy, #add`. */
const Selectors = Selector.describe('CSS selectors, several joined by commas');

function isRegularExpression(text: string): boolean {
  try {
    new RegExp(text);
    return true;
  } catch {
    return false;
  }
}

/** Two runs of stars at most: with more, some paths would take long. */
const Like = z
  .string()
  .min(1)
  .max(200)
  .startsWith('/')
  .refine((like) => (like.match(/\*\*+/g) ?? []).length <= 2, 'at most two **');

export const PathPatternShape = z
  .union([
    z.strictObject({ like: z.array(Like).min(1).max(10) }),
    z.string().min(1).max(500).refine(isRegularExpression, 'a regular expression'),
  ])
  .describe('Paths like these, * being one part of a path and ** any number; or an expression that they match (RE2)');

const Shown = z.strictObject({
  area: Selectors.describe('What holds one product'),
  link: Selectors.describe('The link in it, or the area itself, whose href or data-href is the product’s address'),
});

const SitePath = z.string().min(1).max(500).startsWith('/');

/** Where controls, prices and links are on the shop's pages. */
export const PageMap = z
  .strictObject({
    site: z
      .url({ protocol: /^https?$/ })
      .max(500)
      .optional()
      .describe('Where the shop’s pages are: scheme, host and port'),
    pages: z.array(SitePath).max(20).optional().describe('Paths of pages that a check looks at'),
    productPage: z.strictObject({
      path: PathPatternShape,
      area: Selectors,
      parameters: z
        .array(z.string().min(1).max(100))
        .min(1)
        .max(5)
        .optional()
        .describe('Names of the address parameters that tell products apart whose pages have one path: /item?i=4414'),
    }),
    card: Shown.describe('A product on a listing'),
    quickView: Shown.optional().describe('A product in a part that opens over a page'),
    cartLine: Shown.optional().describe('A product in the cart or at checkout'),
    shadowHosts: Selectors.optional().describe('Elements whose open shadow roots are looked into'),
    control: Selectors.describe('Inside an area: what puts the product into the cart'),
    together: Selectors.optional().describe('A button that puts several products of one form into the cart at once'),
    form: Selectors.optional().describe('Inside an area; the form around the control when not said'),
    express: Selectors.optional().describe('Inside an area'),
    price: Selectors.optional().describe('Inside an area'),
    besidePrice: Selectors.optional().describe(
      'Inside an area: what says more about the price, hidden with it: a former price, a saving, instalments. A choice, such as an option of a menu, stays and loses the amounts in its text',
    ),
    stock: Selectors.optional().describe('Inside an area'),
    title: Selectors.optional().describe('Inside an area'),
    description: Selectors.optional().describe('Inside an area'),
    quantity: Selectors.optional().describe('Inside an area: the box or menu of how many'),
    variant: Selectors.optional().describe(
      'The input, select or radios whose value is the variant’s id, or what is pressed now of what is',
    ),
    variantAttribute: z
      .string()
      .regex(/^[a-z][\w-]*$/)
      .max(100)
      .optional()
      .describe('The attribute of what is pressed that holds the variant’s id, where its value does not'),
    variantParameter: z
      .string()
      .min(1)
      .max(100)
      .optional()
      .describe('The address parameter that holds the variant’s id'),
    variantEvent: z
      .strictObject({
        name: z.string().min(1).max(100),
        detail: z.string().min(1).max(200).describe('Names joined by dots: where in the event’s detail the id is'),
      })
      .optional()
      .describe('A DOM event by which the page says which variant was chosen'),
    cart: z.strictObject({ path: PathPatternShape.optional(), links: Selectors.optional() }).optional(),
    checkout: z
      .strictObject({
        path: PathPatternShape.optional(),
        links: Selectors.optional(),
        order: Selectors.optional().describe('The button that places the order'),
        methods: Selectors.optional().describe(
          'What holds one payment method; its code is the value of the input in it, or its data-method',
        ),
        methodCodes: z
          .array(z.strictObject({ code: z.string().min(1).max(100), name: z.string().max(200) }))
          .max(50)
          .optional()
          .describe('The payment methods that the shop has, for rules to choose from'),
      })
      .optional(),
  })
  .meta({ id: 'PageMap' });
export type PageMap = z.infer<typeof PageMap>;

type WithSource<Part> = Part extends { path: unknown } ? Omit<Part, 'path'> & { path: string } : Part;

/** A page map as the storefront script receives it, with path patterns as regular expressions. */
export type ScriptPageMap = Omit<PageMap, 'productPage' | 'cart' | 'checkout' | 'site' | 'pages'> & {
  productPage: WithSource<PageMap['productPage']>;
  cart?: { path?: string | undefined; links?: string | undefined } | undefined;
  checkout?:
    | {
        path?: string | undefined;
        links?: string | undefined;
        order?: string | undefined;
        methods?: string | undefined;
      }
    | undefined;
};

/** Removes the parts that only the check uses: they are not sent to every page. */
export function scriptPageMap({ site: _site, pages: _pages, ...map }: PageMap): ScriptPageMap {
  const source = <Part extends { path?: PathPattern | undefined }>(part: Part) =>
    ({ ...part, ...(part.path === undefined ? {} : { path: patternSource(part.path) }) }) as WithSource<Part>;
  return {
    ...map,
    productPage: source(map.productPage),
    ...(map.cart ? { cart: source(map.cart) } : {}),
    ...(map.checkout ? { checkout: source(withoutCodes(map.checkout)) } : {}),
  } as ScriptPageMap;
}

const withoutCodes = ({ methodCodes: _codes, ...checkout }: NonNullable<PageMap['checkout']>) => checkout;
