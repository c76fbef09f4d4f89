import { Segmented } from '@/ui/segmented';

export type MapAs = 'graph' | 'list';

/** The Map as a graph or as a list. */
export function MapChoice({ as, onChange }: { as: MapAs; onChange: () => void }) {
  return (
    <Segmented
      label="Map as"
      value={as}
      options={[
        ['graph', 'Graph'],
        ['list', 'List'],
      ]}
      onChange={(v) => v !== as && onChange()}
    />
  );
}

/** What is looked for on it. */
export function MapSearch({
  words,
  value,
  onChange,
  width,
}: {
  words: string;
  value: string;
  onChange: (text: string) => void;
  width: string;
}) {
  return (
    <input
      aria-label="Search the Map"
      placeholder={words}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      className={`${width} rounded-md border border-line bg-sheet px-2 py-1`}
    />
  );
}
