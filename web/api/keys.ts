/** What is kept of the server's answers, by name. */
export const keys = {
  session: ['session'],
  shop: ['shop'],
  goods: ['goods'],
  vocabulary: ['vocabulary'],
  audiences: ['audiences'],
  products: (query: string) => ['products', query],
  people: (query: string) => ['people', query],
  job: (id: string) => ['job', id],
  draft: ['draft'],
  editions: ['editions'],
  edition: (number: number) => ['editions', number],
  live: ['editions', 'live'],
  connection: ['connection'],
  pageMap: ['page-map'],
  pageMaps: ['page-map', 'history'],
  attention: ['attention'],
} as const;
