import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import '@fontsource-variable/instrument-sans';
import '@fontsource/commit-mono/400.css';
import '@fontsource/commit-mono/700.css';
import './globals.css';

export const metadata: Metadata = { title: 'Irimi', description: 'Make the join between two shots.' };

/** Sets the theme before anything is painted. */
const THEME_SCRIPT = `try { document.documentElement.dataset.theme = JSON.parse(localStorage.getItem('irimi:theme') ?? '"light"'); } catch {}`;

export default async function RootLayout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: THEME_SCRIPT }} />
        {children}
      </body>
    </html>
  );
}
