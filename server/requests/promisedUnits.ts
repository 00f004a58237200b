/**
 * SQL for the units that invited people may still buy of a list; an invitation without a number counts as one.
 * @param product key of the list's product
 * @param variant key of its variant, null for the product's own list
 */
export const promisedUnits = (product: string, variant: string): string => `
  (SELECT coalesce(sum(coalesce((SELECT i.units FROM invitations i WHERE i.entry_id = turn.id ORDER BY i.id DESC LIMIT 1), 1)), 0)::bigint
   FROM waitlist_entries turn WHERE turn.product_id = ${product}
     AND turn.variant_id IS NOT DISTINCT FROM ${variant} AND turn.state = 'invited')`;
