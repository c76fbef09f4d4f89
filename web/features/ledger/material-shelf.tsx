'use client';
import { edit, select, useDocument } from '@/state/document/document';
import { MATERIALS } from '@/state/document/materials';
import { MenuItem, MenuRule } from '@/ui/menu-parts';

/** Materials that can be added with their density; those there already are left out. */
export function MaterialShelf() {
  const known = useDocument((s) => s.model?.materials) ?? [];
  const add = (name: string, density: string) => {
    edit(`Add ${name}`, (m) => void m.materials.push({ name, density }));
    select({ family: 'materials', name });
  };
  return (
    <>
      <MenuRule />
      {MATERIALS.filter(([name]) => !known.some((m) => m.name === name)).map(([name, density]) => (
        <MenuItem key={name} hint={density.replace('^3', '³')} onSelect={() => add(name, density)}>
          {name}
        </MenuItem>
      ))}
    </>
  );
}
