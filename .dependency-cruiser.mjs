const ROOMS = ['core', 'server', 'web', 'storefront', 'client', 'shop', 'simulators', 'demo', 'cli', 'bench', 'tests'];
const only = (name, from, allowed, comment) => ({
  name,
  comment,
  severity: 'error',
  from: { path: `^${from}/`, pathNot: '\\.test\\.tsx?$' },
  to: { path: `^(${ROOMS.filter((room) => !allowed.includes(room)).join('|')})/` },
});

/** Folders are in no circle: facts and controls know no engine, a feature and a screen take from what stands below them. */
export const FOLDERS = [
  {
    name: 'no-circles-of-folders',
    severity: 'error',
    scope: 'folder',
    from: { path: '^(core|server|web)/' },
    to: { circular: true },
  },
];

/** Parts of the storefront are loaded one by one, so an import from another part would load that as well. */
const partOfStorefront = (part, allowed) => ({
  name: `storefront-${part}-is-loaded-alone`,
  severity: 'error',
  from: { path: `^storefront/${part}/`, pathNot: '\\.test\\.tsx?$' },
  to: { path: '^storefront/', pathNot: `^storefront/(${[part, ...allowed].join('|')})` },
});

/**
 * The faces of rooms in the core: modules that others may import. What is not named here is the room's own. Rooms that are
 * missing (contract, model, fulfilment, insights, places) are public as a whole.
 */
const FACES = {
  analysis:
    'calendar|changeGroups|columns|factImpact|finding|findings|impact|instants|outcomeDiffer|productSearch|quickFixes|representatives|ruleFindings|ruleMatcher|spotCheck',
  aspects: 'aspect|aspects|control|outcome|price',
  controls: 'control|controls|preorder|telling',
  engine: 'bits|compile|conjunctions|couldShow|decide|decision|guard|listing|possible|trace|visit|winners',
  facts: 'fact|facts|predicates|segment|stockStatus|surface|windows|wording',
  imports: 'columns|fileReading|guessReading|rowConverter|sample',
  requests: 'enquiry|machine|preorder|quote|quotePart|quoteParts|requests|waitlist',
  rulebook: 'changes|closure|condition|entries|jsonSchema|merge|rulebook|sellers|sentence|unfinished|upgrades',
  texts:
    'amounts|dateName|defaultTexts|href|hrefSchema|languages|languages/en|languages/language|letter|locale|localisedTextSchema|markdown|messageEvents|messages|placeholders|prices|readable|shopTexts|textRenderers',
};
const onlyByItsFace = ([room, modules]) => ({
  name: `${room}-has-a-face`,
  severity: 'error',
  from: { pathNot: `^core/${room}/` },
  to: { path: `^core/${room}/`, pathNot: `^core/${room}/(${modules})\\.ts$` },
});

/** Import rules between rooms; see "Rooms" in docs/architecture.md. */
export default {
  forbidden: [
    only('core-stands-alone', 'core', ['core'], 'The core decides; it knows nobody'),
    only('server-knows-core', 'server', ['server', 'core'], 'The server carries what the core decides'),
    only('web-knows-core', 'web', ['web', 'core'], 'The owner’s application decides with the core'),
    only('storefront-knows-core-types', 'storefront', ['storefront', 'core'], 'Shops’ pages know the contract'),
    only('simulators-know-nobody', 'simulators', ['simulators'], 'A simulator is a service like any other'),
    only('client-knows-calls', 'client', ['client', 'core'], 'Its calls are typed by the contract'),
    {
      name: 'client-stands-alone',
      comment: 'A shop’s server installs it without the core: it takes types, and the addresses of calls',
      severity: 'error',
      from: { path: '^client/', pathNot: '\\.test\\.ts$' },
      to: { path: '^core/|node_modules', pathNot: '^core/contract/callNames', dependencyTypesNot: ['type-only'] },
    },
    only('shop-knows-client', 'shop', ['shop', 'client'], 'The sample shop is a shop like any other'),
    only('cli-knows-core', 'cli', ['cli', 'core'], 'The command line is a program like any other, by the contract'),
    only('demo-knows-core', 'demo', ['demo', 'core'], 'The demo fills in by the contract’s calls'),
    {
      name: 'core-packages',
      comment: 'Zod, ICU messages, Markdown, CSV and the distance of names, nothing else; no Node',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: {
        dependencyTypes: ['npm', 'npm-dev', 'core', 'unknown', 'undetermined'],
        pathNot: 'node_modules/(zod|intl-messageformat|markdown-it|papaparse|fastest-levenshtein)/',
      },
    },
    {
      name: 'script-takes-types-only',
      comment:
        'Except for finding parts of pages, and for recognising amounts, which loads only where a price is hidden',
      severity: 'error',
      from: { path: '^storefront/(script|dialogs)/', pathNot: '\\.test\\.ts$' },
      to: {
        path: '^core/|node_modules',
        pathNot: '^core/(places/find|texts/amounts)',
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'picker-takes-types-only',
      comment: 'Except for drawing its panel and for finding paths and parts of pages; only owners load it',
      severity: 'error',
      from: { path: '^storefront/picker/' },
      to: {
        path: '^core/|node_modules',
        pathNot: 'node_modules/preact/|^core/(contract/pathPattern|places/)',
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'places-import-nothing',
      comment: 'Storefront script, picker and check share them',
      severity: 'error',
      from: { path: '^core/places/', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^core/places/' },
    },
    partOfStorefront('script', ['shared/']),
    partOfStorefront('dialogs', ['shared/']),
    partOfStorefront('fitting', ['script/marks']),
    partOfStorefront('picker', ['shared/']),
    partOfStorefront('shared', []),
    ...Object.entries(FACES).map(onlyByItsFace),
    only('bench-measures-all', 'bench', ['bench', 'core', 'server', 'web', 'tests'], 'Measures what the rooms do'),
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'no-tests-in-production',
      severity: 'error',
      from: { path: `^(${ROOMS.join('|')})/`, pathNot: '\\.test\\.tsx?$|^(tests|bench)/' },
      to: { path: '\\.test\\.tsx?$|^tests/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '\\.(css|svg|woff2?)$' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default'] },
  },
};
