import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import '@fontsource-variable/hanken-grotesk';
import '@fontsource-variable/fraunces';
import '@fontsource-variable/jetbrains-mono';
import './globals.css';

export const metadata: Metadata = { title: 'Glypta', description: 'A bench for making 3D models' };

/** Sets the theme before the first paint, so that the page never flashes in the other one. */
const theme = `try{var t=localStorage.getItem('glypta-theme');if(!t)t=matchMedia('(prefers-color-scheme: dark)').matches?'basalt':'plaster';document.documentElement.dataset.theme=t}catch(e){}`;

export default async function Layout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en" data-theme="plaster" suppressHydrationWarning>
      <head>
        <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: theme }} />
      </head>
      <body>{children}</body>
    </html>
  );
}
