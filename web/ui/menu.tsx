'use client';
import { type ComponentProps, type ReactElement, type ReactNode, cloneElement, useState } from 'react';
import type * as Parts from './menu-parts';

/** Menus and their library come with the first one that is opened; from then on they are drawn at once, without a jump. */
let parts: typeof Parts | undefined;
const bring = async () => (parts ??= await import('./menu-parts'));

export const MenuItem = (p: ComponentProps<typeof Parts.MenuItem>) => parts && <parts.MenuItem {...p} />;
export const MenuCheck = (p: ComponentProps<typeof Parts.MenuCheck>) => parts && <parts.MenuCheck {...p} />;
export const MenuRule = () => parts && <parts.MenuRule />;
export const MenuLabel = (p: ComponentProps<typeof Parts.MenuLabel>) => parts && <parts.MenuLabel {...p} />;

interface Button {
  onClick?: () => void;
  'aria-haspopup'?: 'menu';
  'aria-expanded'?: boolean;
}

/** A menu behind a button. */
export function Menu({ trigger, children, align }: { trigger: ReactElement<Button>; children: ReactNode; align?: 'start' | 'end' }) {
  const [opened, setOpened] = useState(false);
  if (opened && parts)
    return (
      <parts.Menu trigger={trigger} {...(align ? { align } : {})}>
        {children}
      </parts.Menu>
    );
  return cloneElement(trigger, {
    'aria-haspopup': 'menu',
    'aria-expanded': false,
    onClick: () => void bring().then(() => setOpened(true)),
  });
}
