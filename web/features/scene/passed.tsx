import { usePassed } from './use-overlays';

/** Names the limits that are passed at the time shown, over the scene. */
export function Passed() {
  const passed = usePassed();
  if (passed.length === 0) return null;
  return (
    <ul aria-label="Limits passed now" className="pointer-events-none absolute bottom-3 right-3 grid gap-1 text-xs">
      {[...new Set(passed.map((v) => v.limit))].map((n) => (
        <li key={n} className="rounded-md bg-warn-soft px-2 py-0.5 font-medium text-warn">
          {n} is passed
        </li>
      ))}
    </ul>
  );
}
