import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';

/**
 * Packages that would run a program when they are installed. None needs to: esbuild only looks for its binary sooner, and
 * scarf counts installations. One that did would be built by name after `npm ci`: `npm rebuild NAME --ignore-scripts=false`.
 */
const WITH_INSTALL_SCRIPT = ['@scarf/scarf', 'esbuild'];

it('no dependency runs a program when it is installed, and any that wants to is known', () => {
  expect(readFileSync('.npmrc', 'utf8').split('\n')).toContain('ignore-scripts=true');
  const { packages } = JSON.parse(readFileSync('package-lock.json', 'utf8')) as {
    packages: Record<string, { hasInstallScript?: boolean }>;
  };
  const wanting = Object.entries(packages).flatMap(([path, { hasInstallScript }]) =>
    hasInstallScript ? path.replace(/^.*node_modules\//, '') : [],
  );
  expect([...new Set(wanting)].sort()).toEqual(WITH_INSTALL_SCRIPT);
});
