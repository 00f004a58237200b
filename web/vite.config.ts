import { fileURLToPath } from 'node:url';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const file = (name: string) => fileURLToPath(new URL(name, import.meta.url));
/** Entry points of the first screen: the frame and Today. */
const FIRST_SCREEN = [file('main.tsx'), file('today/TodayPage.tsx')];
/** Minimum number of screens that must share a module for it to join the common chunk. */
const SHARED_BY = 4;

interface Modules {
  getModuleInfo: (id: string) => { readonly importedIds: readonly string[] } | null;
}

let onFirstScreen: Set<string> | null = null;
/** Returns whether the first screen needs a module. */
function isOnFirstScreen(id: string, modules: Modules): boolean {
  if (!onFirstScreen) {
    onFirstScreen = new Set();
    const open = [...FIRST_SCREEN];
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      if (onFirstScreen.has(next)) continue;
      onFirstScreen.add(next);
      open.push(...(modules.getModuleInfo(next)?.importedIds ?? []));
    }
  }
  return onFirstScreen.has(id);
}

export default defineConfig({
  plugins: [react()],
  // Hashed files go to assets/; nothing is inlined, because of the content security policy.
  build: {
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    chunkSizeWarningLimit: 1000,
    rolldownOptions: {
      output: {
        // A screen loads half as many files: each costs a request, over which browsers on HTTP/1.1 queue.
        codeSplitting: {
          groups: [
            {
              debugName: 'screens',
              minShareCount: SHARED_BY,
              includeDependenciesRecursively: false,
              name: (id, modules) => (isOnFirstScreen(id, modules) ? null : 'screens'),
            },
          ],
        },
      },
    },
  },
});
