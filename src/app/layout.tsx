import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/literata';
import '@fontsource-variable/literata/wght-italic.css';
import './globals.css';
import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { StyleNonce } from '@/ui/frame/style-nonce';
import { FocusKeeper } from '@/ui/frame/focus-keeper';
import { language, strings } from '@/ui/strings';

export const metadata: Metadata = { title: { default: strings.product, template: `%s · ${strings.product}` } };

/** Every answer has a nonce of its own (proxy.ts), which a page that was made before would not know. */
export const dynamic = 'force-dynamic';

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang={language}>
      <body>
        <a href="#sheet" className="skip">
          {strings.skip}
        </a>
        <StyleNonce />
        <FocusKeeper />
        {children}
      </body>
    </html>
  );
}
