import { createBrowserRouter, Navigate } from 'react-router';
import { Frame } from './frame/Frame.tsx';
import { Gate } from './session/Gate.tsx';
import { LoadFailed } from './shared/LoadFailed.tsx';

/** Every address of the application. Screens are loaded when they are gone to. */
export const router = createBrowserRouter([
  {
    errorElement: <LoadFailed />,
    HydrateFallback: () => null,
    children: [
      { path: '/setup', lazy: async () => ({ Component: (await import('./session/SetupPage.tsx')).SetupPage }) },
      {
        element: (
          <Gate>
            <Frame />
          </Gate>
        ),
        children: [
          { index: true, element: <Navigate to="/rules" replace /> },
          {
            path: '/rules/:ruleId?',
            lazy: async () => ({ Component: (await import('./rules/RulesPage.tsx')).RulesPage }),
          },
          {
            path: '/review',
            lazy: async () => ({ Component: (await import('./editions/ReviewPage.tsx')).ReviewPage }),
          },
          {
            path: '/editions/:number?',
            lazy: async () => ({ Component: (await import('./editions/EditionsPage.tsx')).EditionsPage }),
          },
          {
            path: '/connection',
            lazy: async () => ({ Component: (await import('./connection/ConnectionPage.tsx')).ConnectionPage }),
          },
          { path: '*', element: <Navigate to="/rules" replace /> },
        ],
      },
    ],
  },
]);
