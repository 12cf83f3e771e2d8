import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/literata';
import '@fontsource-variable/literata/wght-italic.css';
import './globals.css';
import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { StyleNonce } from '@/ui/frame/style-nonce';
import { FocusKeeper } from '@/ui/frame/focus-keeper';
import { strings } from '@/ui/strings/en';

export const metadata: Metadata = { title: { default: strings.product, template: `%s · ${strings.product}` } };

export default async function RootLayout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? '';
  return (
    <html lang="en">
      <body>
        <a href="#sheet" className="skip">
          {strings.skip}
        </a>
        <StyleNonce nonce={nonce} />
        <FocusKeeper />
        {children}
      </body>
    </html>
  );
}
