// Proves which room imports which, that no folder is in a circle, and that modules were looked at at all.
import { cruise } from 'dependency-cruiser';
import extractDepcruiseConfig from 'dependency-cruiser/config-utl/extract-depcruise-config';
import extractTSConfig from 'dependency-cruiser/config-utl/extract-ts-config';
import { FOLDERS } from '../.dependency-cruiser.mjs';

const config = await extractDepcruiseConfig('./.dependency-cruiser.mjs');
const tsConfig = extractTSConfig('./tsconfig.base.json');
const rooms = ['core', 'server', 'web', 'storefront', 'client', 'shop', 'simulators', 'demo', 'cli', 'bench'];
const look = async (rules, options = {}) => {
  const { output } = await cruise(
    rooms,
    { ...config.options, ...options, ruleSet: { forbidden: rules }, validate: true },
    {},
    { tsConfig },
  );
  return output;
};
const files = await look(config.forbidden);
// Tests look across folders, as they should.
const folders = await look(FOLDERS, { exclude: { path: '\\.(css|svg|woff2?)$|\\.test\\.tsx?$|^tests/' } });
const violations = [...files.summary.violations, ...folders.summary.violations];
for (const { rule, from, to } of violations) console.error(`${rule.name}: ${from} → ${to}`);
for (const room of rooms) {
  const count = files.modules.filter(({ source }) => source.startsWith(`${room}/`)).length;
  console.log(`${room}: ${count} modules`);
  if (count === 0) {
    console.error(`no module of ${room} was looked at`);
    process.exitCode = 1;
  }
}
console.log(`${files.summary.totalCruised} modules and packages, ${violations.length} violations`);
if (violations.length > 0) process.exitCode = 1;
