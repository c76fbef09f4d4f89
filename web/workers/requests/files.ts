/** Files in and out, and models made of models. */
import { assemble, build } from '@vim-pivot/core/engine';
import { mechanismOf } from './machine';
import { type Handlers, post } from './post';
import { suppliedTo } from './supply';

/** The schema is a third of the engine, and needed only when a file is opened. */
const file = () => import('@vim-pivot/core/file');
const project = () => import('@vim-pivot/core/project');
const urdf = () => import('@vim-pivot/core/urdf');
const onDemand = () => import('@vim-pivot/core/on-demand');

export const FILES: Handlers<
  'parse' | 'read-kits' | 'read-urdf' | 'write-urdf' | 'pack' | 'unpack' | 'columns' | 'kit-of' | 'independent'
> = {
  parse: async ({ id, text }) => {
    const model = (await file()).readModel(text);
    await suppliedTo([model]);
    post({ type: 'parsed', id, model, faults: build(model).diagnoses.filter((d) => d.severity === 'error') });
  },
  'read-kits': async ({ id, text }) => post({ type: 'kits', id, kits: (await file()).readKits(text) }),
  'read-urdf': async ({ id, text }) => post({ type: 'read-urdf', id, ...(await urdf()).readUrdf(text) }),
  'write-urdf': async ({ id, model }) => {
    const mechanism = mechanismOf(model);
    mechanism.system.K.load(assemble(mechanism).y);
    post({ type: 'write-urdf', id, ...(await urdf()).writeUrdf(mechanism) });
  },
  pack: async ({ id, packed }) => {
    const bytes = (await project()).pack(packed);
    post({ type: 'packed', id, bytes }, [bytes.buffer]);
  },
  unpack: async ({ id, bytes }) => {
    const { left, ...packed } = (await project()).unpack(bytes);
    post(
      { type: 'unpacked', id, packed, left },
      packed.runs.map((r) => r.data.buffer),
    );
  },
  columns: async ({ id, text }) => post({ type: 'columns', id, ...(await import('@vim-pivot/core/csv')).readColumns(text) }),
  'kit-of': async ({ id, model, picked, name }) => {
    const { mechanism } = build(model);
    const made = (await onDemand()).kitOf(model, picked, name, (p) => mechanism?.layout.point(p) ?? [0, 0, 0]);
    post({ type: 'made', id, model: made });
  },
  independent: async ({ id, model, name }) => post({ type: 'made', id, model: (await onDemand()).independent(model, name) }),
};
