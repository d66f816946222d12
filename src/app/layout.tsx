import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import type { Metadata } from 'next';
import { Suspense, type ReactNode } from 'react';
import { Frame } from '@/ui/frame/Frame';
import { Providers } from '@/ui/frame/Providers';

export const metadata: Metadata = { title: { default: 'Leadline', template: '%s · Leadline' }, description: 'Document pipelines that say how sure they are' };
export const dynamic = 'force-dynamic';

export default function Layout({ children }: { readonly children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data-scheme" defaultMode="system" />
        <AppRouterCacheProvider options={{ enableCssLayer: false }}>
          <Providers>
            <Suspense>
              <Frame>{children}</Frame>
            </Suspense>
          </Providers>
        </AppRouterCacheProvider>
      </body>
    </html>
  );
}
