-- Hiding prices is a right of its own now: those who could decide prices keep it.
UPDATE sellers SET allowed = allowed || jsonb_build_object('hidesPrices', allowed->'aspects' ? 'price')
  WHERE allowed IS NOT NULL;
UPDATE seller_defaults SET allowed = allowed || jsonb_build_object('hidesPrices', allowed->'aspects' ? 'price');
