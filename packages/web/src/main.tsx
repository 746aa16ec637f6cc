import '@fontsource-variable/source-code-pro/wght.css';
import '@fontsource-variable/source-sans-3/wght.css';
import '@fontsource-variable/source-serif-4/wght.css';
import { ChakraProvider } from '@chakra-ui/react';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { ErrorBoundary } from 'react-error-boundary';
import { Provider } from 'react-redux';
import { RouterProvider, createBrowserRouter, type RouteObject } from 'react-router';
import { Frame } from './app/Frame.tsx';
import { startColourMode } from './app/colourMode.ts';
import { Nothing } from './app/Nothing.tsx';
import { Opening } from './app/Opening.tsx';
import { store } from './app/store.ts';
import { Stopped } from './app/Stopped.tsx';
import { system } from './app/theme.ts';
import { Toaster } from './app/toaster.tsx';
import { UnloadedView } from './app/UnloadedView.tsx';
import { VIEWS, type View } from './views.ts';

const routeOf = ({ path, load }: Pick<View, 'path' | 'load'>): RouteObject => ({
  path,
  lazy: async () => ({ Component: await load() }),
  errorElement: <UnloadedView />,
});

const router = createBrowserRouter([
  {
    path: '/',
    element: <Frame views={VIEWS} />,
    hydrateFallbackElement: <Opening />,
    children: [
      ...VIEWS.flatMap((view) => [routeOf(view), ...(view.below ? [routeOf(view.below)] : [])]),
      { path: '*', element: <Nothing /> },
    ],
  },
]);

startColourMode();
createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <ChakraProvider value={system}>
      <ErrorBoundary FallbackComponent={Stopped}>
        <Provider store={store}>
          {/* Without transitions: what is chosen is chosen before the next key is read, however busy the page is. */}
          <RouterProvider router={router} useTransitions={false} />
          <Toaster />
        </Provider>
      </ErrorBoundary>
    </ChakraProvider>
  </StrictMode>,
);
