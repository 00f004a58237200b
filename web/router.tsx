import { createBrowserRouter, Navigate } from 'react-router';
import { Application } from './Application.tsx';
import { Gate } from './session/Gate.tsx';
import { LoadFailed } from './shared/LoadFailed.tsx';

/** Every address of the application. Screens are loaded when they are gone to. */
export const router = createBrowserRouter([
  {
    errorElement: <LoadFailed />,
    HydrateFallback: () => null,
    children: [
      {
        path: '/password',
        lazy: async () => ({ Component: (await import('./session/PasswordPage.tsx')).PasswordPage }),
      },
      { path: '/setup', lazy: async () => ({ Component: (await import('./session/SetupPage.tsx')).SetupPage }) },
      {
        element: (
          <Gate>
            <Application />
          </Gate>
        ),
        children: [
          { index: true, element: <Navigate to="/today" replace /> },
          {
            path: '/today',
            lazy: async () => ({ Component: (await import('./today/TodayPage.tsx')).TodayPage }),
          },
          {
            path: '/calendar',
            lazy: async () => ({ Component: (await import('./rehearsal/CalendarPage.tsx')).CalendarPage }),
          },
          {
            path: '/rehearsal',
            lazy: async () => ({ Component: (await import('./rehearsal/RehearsalPage.tsx')).RehearsalPage }),
          },
          {
            path: '/rules/:ruleId?',
            lazy: async () => ({ Component: (await import('./rules/RulesPage.tsx')).RulesPage }),
          },
          { path: '/text', lazy: async () => ({ Component: (await import('./text/TextPage.tsx')).TextPage }) },
          {
            path: '/review',
            lazy: async () => ({ Component: (await import('./editions/ReviewPage.tsx')).ReviewPage }),
          },
          {
            path: '/editions/:number?',
            lazy: async () => ({ Component: (await import('./editions/EditionsPage.tsx')).EditionsPage }),
          },
          {
            path: '/catalog',
            lazy: async () => ({ Component: (await import('./catalog/CatalogPage.tsx')).CatalogPage }),
          },
          {
            path: '/catalog/:id',
            lazy: async () => ({ Component: (await import('./catalog/ProductPage.tsx')).ProductPage }),
          },
          {
            path: '/people',
            lazy: async () => ({ Component: (await import('./people/PeoplePage.tsx')).PeoplePage }),
          },
          {
            path: '/sellers',
            lazy: async () => ({ Component: (await import('./sellers/SellersPage.tsx')).SellersPage }),
          },
          {
            path: '/waitlists',
            lazy: async () => ({ Component: (await import('./waitlists/WaitlistsPage.tsx')).WaitlistsPage }),
          },
          {
            path: '/preorders',
            lazy: async () => ({ Component: (await import('./preorders/PreordersPage.tsx')).PreordersPage }),
          },
          {
            path: '/quotes',
            lazy: async () => ({ Component: (await import('./quotes/QuotesPage.tsx')).QuotesPage }),
          },
          {
            path: '/enquiries',
            lazy: async () => ({ Component: (await import('./enquiries/EnquiriesPage.tsx')).EnquiriesPage }),
          },
          {
            path: '/insights',
            lazy: async () => ({ Component: (await import('./insights/ShownPage.tsx')).ShownPage }),
          },
          {
            path: '/insights/demand',
            lazy: async () => ({ Component: (await import('./insights/DemandPage.tsx')).DemandPage }),
          },
          {
            path: '/insights/editions/:number?',
            lazy: async () => ({ Component: (await import('./insights/EffectsPage.tsx')).EffectsPage }),
          },
          {
            path: '/forms',
            lazy: async () => ({ Component: (await import('./forms/FormsPage.tsx')).FormsPage }),
          },
          {
            path: '/messages',
            lazy: async () => ({ Component: (await import('./messages/MessagesPage.tsx')).MessagesPage }),
          },
          {
            path: '/messages/words',
            lazy: async () => ({ Component: (await import('./messages/WordsPage.tsx')).WordsPage }),
          },
          {
            path: '/messages/settings',
            lazy: async () => ({ Component: (await import('./messages/SettingsPage.tsx')).SettingsPage }),
          },
          {
            path: '/texts',
            lazy: async () => ({ Component: (await import('./texts/TextsPage.tsx')).TextsPage }),
          },
          {
            path: '/settings',
            lazy: async () => ({ Component: (await import('./settings/SettingsFrame.tsx')).SettingsFrame }),
            children: [
              { index: true, element: <Navigate to="/settings/shop" replace /> },
              {
                path: 'shop',
                lazy: async () => ({ Component: (await import('./settings/ShopPage.tsx')).ShopPage }),
              },
              {
                path: 'colleagues',
                lazy: async () => ({ Component: (await import('./settings/ColleaguesPage.tsx')).ColleaguesPage }),
              },
              {
                path: 'keys',
                lazy: async () => ({ Component: (await import('./settings/KeysPage.tsx')).KeysPage }),
              },
              {
                path: 'record',
                lazy: async () => ({ Component: (await import('./settings/RecordPage.tsx')).RecordPage }),
              },
              {
                path: 'you',
                lazy: async () => ({ Component: (await import('./settings/YouPage.tsx')).YouPage }),
              },
            ],
          },
          {
            path: '/connection',
            lazy: async () => ({ Component: (await import('./connection/ConnectionPage.tsx')).ConnectionPage }),
          },
          {
            path: '/connection/not-started',
            lazy: async () => ({ Component: (await import('./connection/NotStartedPage.tsx')).NotStartedPage }),
          },
          { path: '*', element: <Navigate to="/rules" replace /> },
        ],
      },
    ],
  },
]);
