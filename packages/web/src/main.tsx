import '@fontsource-variable/source-code-pro/wght.css';
import '@fontsource-variable/source-sans-3/wght.css';
import '@fontsource-variable/source-serif-4/wght.css';
import { ChakraProvider, Text } from '@chakra-ui/react';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider, createBrowserRouter } from 'react-router';
import { Frame } from './app/Frame.tsx';
import { startColourMode } from './app/colourMode.ts';
import { store } from './app/store.ts';
import { system } from './app/theme.ts';
import { Toaster } from './app/toaster.tsx';
import { VIEWS } from './views.tsx';

const router = createBrowserRouter([
  {
    path: '/',
    element: <Frame views={VIEWS} />,
    children: [
      ...VIEWS.flatMap(({ path, element, below }) => [{ path, element }, ...(below ? [below] : [])]),
      { path: '*', element: <Text p="6">There is nothing at this address. The views are named at the top.</Text> },
    ],
  },
]);

startColourMode();
createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <Provider store={store}>
      <ChakraProvider value={system}>
        <RouterProvider router={router} />
        <Toaster />
      </ChakraProvider>
    </Provider>
  </StrictMode>,
);
