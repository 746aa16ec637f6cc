import '@fontsource-variable/source-code-pro/wght.css';
import '@fontsource-variable/source-sans-3/wght.css';
import '@fontsource-variable/source-serif-4/wght.css';
import './app/print.css';
import { ChakraProvider } from '@chakra-ui/react';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { ErrorBoundary } from 'react-error-boundary';
import { Provider } from 'react-redux';
import { BrowserRouter, Route, Routes } from 'react-router';
import { Frame } from './app/Frame.tsx';
import { startColourMode } from './app/colourMode.ts';
import { Nothing } from './app/Nothing.tsx';
import { store } from './app/store.ts';
import { Stopped } from './app/Stopped.tsx';
import { system } from './app/theme.ts';
import { Toaster } from './app/toaster.tsx';
import { VIEWS, fetchAhead } from './views.tsx';

const page = (
  <StrictMode>
    <ChakraProvider value={system}>
      <ErrorBoundary FallbackComponent={Stopped}>
        <Provider store={store}>
          {/* Without transitions: what is chosen is chosen before the next key is read, however busy the page is. */}
          <BrowserRouter useTransitions={false}>
            <Routes>
              <Route path="/" element={<Frame views={VIEWS} />}>
                {VIEWS.flatMap((view) => [view, ...(view.below ? [view.below] : [])]).map(({ path, shown }) => (
                  <Route key={path} path={path} element={<shown.Part />} />
                ))}
                <Route path="*" element={<Nothing />} />
              </Route>
            </Routes>
          </BrowserRouter>
          <Toaster />
        </Provider>
      </ErrorBoundary>
    </ChakraProvider>
  </StrictMode>
);

startColourMode();
// Drawn once the first view is there, so that nothing stands in its place for a moment.
void fetchAhead(location.pathname, store.dispatch).then(() =>
  createRoot(document.getElementById('root') as HTMLElement).render(page),
);
