import type { Metadata } from 'next';
import { headers } from 'next/headers';
import '@fontsource-variable/archivo/wght.css';
import '@fontsource-variable/jetbrains-mono/wght.css';
import './globals.css';

export const metadata: Metadata = { title: 'Vim Pivot', description: 'Multibody models of mechanisms and machines' };

/** Sets the theme before the first paint, so that nothing flashes. */
const THEME = `try{var t=localStorage.getItem('theme');if(t==='dark'||(!t&&matchMedia('(prefers-color-scheme: dark)').matches))document.documentElement.classList.add('dark')}catch(e){}`;

export default async function Layout({ children }: { children: React.ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        <script nonce={nonce} dangerouslySetInnerHTML={{ __html: THEME }} suppressHydrationWarning />
      </head>
      <body>{children}</body>
    </html>
  );
}
