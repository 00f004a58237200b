// Proves which room imports which, and that modules were looked at at all.
import { cruise } from 'dependency-cruiser';
import extractDepcruiseConfig from 'dependency-cruiser/config-utl/extract-depcruise-config';
import extractTSConfig from 'dependency-cruiser/config-utl/extract-ts-config';

const config = await extractDepcruiseConfig('./.dependency-cruiser.mjs');
const rooms = ['core', 'server', 'web', 'storefront', 'shop', 'simulators', 'demo'];
const { output } = await cruise(
  rooms,
  { ...config.options, ruleSet: { forbidden: config.forbidden }, validate: true },
  {},
  { tsConfig: extractTSConfig('./tsconfig.base.json') },
);
const { violations, totalCruised } = output.summary;
for (const { rule, from, to } of violations) console.error(`${rule.name}: ${from} → ${to}`);
for (const room of rooms) {
  const count = output.modules.filter(({ source }) => source.startsWith(`${room}/`)).length;
  console.log(`${room}: ${count} modules`);
  if (count === 0) {
    console.error(`no module of ${room} was looked at`);
    process.exitCode = 1;
  }
}
console.log(`${totalCruised} modules and packages, ${violations.length} violations`);
if (violations.length > 0) process.exitCode = 1;
