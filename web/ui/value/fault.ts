import { useDocument } from '@/state/document/document';

/** The finding that concerns a place, if there is one. */
export function useFault(path: string): string | undefined {
  return useDocument((s) => s.diagnoses.find((d) => d.severity === 'error' && d.path && pathText(d.path) === path)?.message);
}
const pathText = (path: readonly (string | number)[]) =>
  path.reduce<string>((t, p) => t + (typeof p === 'number' ? `[${p}]` : `.${p}`), '$');
