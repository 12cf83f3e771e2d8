import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/literata';
import '@fontsource-variable/literata/wght-italic.css';
import './globals.css';
import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { FocusKeeper } from '@/ui/frame/focus-keeper';
import { strings } from '@/ui/strings/en';

export const metadata: Metadata = { title: { default: strings.product, template: `%s · ${strings.product}` } };

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en">
      <body>
        <a href="#sheet" className="skip">
          {strings.skip}
        </a>
        <FocusKeeper />
        {children}
      </body>
    </html>
  );
}
