'use client';
import { javascript } from '@codemirror/lang-javascript';
import CodeMirror, { EditorView } from '@uiw/react-codemirror';
import { useState } from 'react';
import { openScripts } from '@/state/asking';
import { useDocument } from '@/state/document/document';
import { type Outcome, dropScript, keepScript, recentLines, runScript, stopScript } from '@/state/scripts';
import { Button, Dialog } from '@/ui/dialog';

const EXTENSIONS = [javascript(), EditorView.contentAttributes.of({ 'aria-label': 'Text of the script' })];

const BEGINNING = `// A row of points, and a note of what there is.
for (let i = 0; i < 3; i++) {
  pivot.add('points', { name: 'Post ' + (i + 1), at: [i * 0.1, 0, 0] });
}
log(pivot.all('points').length, 'points');
`;
const HELP: readonly (readonly [string, string])[] = [
  ['pivot.all(family)', 'all elements of a family, as copies'],
  ['pivot.get(family, name)', 'one element'],
  ['pivot.has(family, name)', 'whether it is there'],
  ['pivot.add(family, element)', 'adds an element, as it stands in a model file'],
  ['pivot.set(family, name, fields)', 'writes fields; null leaves one out'],
  ['pivot.remove(family, name)', 'takes it out'],
  ['pivot.run({ until, every })', 'runs the model: { status, time, gauges }, SI'],
  ['pivot.families(), pivot.kinds(family)', 'what there can be'],
  ['log(…)', 'a line below'],
];

/** Scripts of the project: an editor, a run in the sandbox, and what it said. */
export function ScriptsDialog() {
  const scripts = useDocument((s) => s.whole?.scripts);
  const [name, setName] = useState(scripts?.[0]?.name ?? 'Script');
  const [text, setText] = useState(scripts?.[0]?.text ?? BEGINNING);
  const [busy, setBusy] = useState(false);
  const [outcome, setOutcome] = useState<Outcome>();
  const run = async () => {
    setBusy(true);
    setOutcome(undefined);
    setOutcome(await runScript(name, text));
    setBusy(false);
  };
  return (
    <Dialog open wide onClose={() => openScripts(false)} title="Scripts">
      <div className="grid grid-cols-[190px_minmax(0,1fr)] gap-4">
        <Shelf
          name={name}
          onOpen={(n, t) => {
            setName(n);
            setText(t);
          }}
        />
        <div className="min-w-0">
          <input
            aria-label="Name of the script"
            value={name}
            maxLength={60}
            onChange={(e) => setName(e.target.value)}
            className="mb-2 w-64 rounded-md border border-line bg-sheet px-2 py-1 font-medium"
          />
          {/* paper in both themes: the dark colours of the editor's comments are too faint to read */}
          <CodeMirror
            value={text}
            onChange={setText}
            height="260px"
            theme="light"
            extensions={EXTENSIONS}
            className="overflow-hidden rounded-md border border-line bg-white text-xs text-[#1c2b33]"
          />
          <div className="mt-2 flex items-center gap-2">
            {busy ? (
              <Button onClick={stopScript}>Stop</Button>
            ) : (
              <Button primary onClick={() => void run()}>
                Run script
              </Button>
            )}
            <Button onClick={() => keepScript(name.trim() || 'Script', text)} title="It is kept with the project and its file">
              Keep with the project
            </Button>
            <span className="min-w-0 flex-1 text-xs text-ink-2">Its own engine, a copy of the model, 10 s and 128 MB at most.</span>
          </div>
          {outcome && (
            <div role="status" className={`mt-2 rounded-md px-3 py-2 ${outcome.ok ? 'bg-calm-soft' : 'bg-warn-soft text-warn'}`}>
              {outcome.line ? `Line ${outcome.line}: ` : ''}
              {outcome.message}
            </div>
          )}
          {outcome && outcome.log.length > 0 && (
            <pre tabIndex={0} aria-label="Log" className="mt-2 max-h-32 overflow-auto rounded-md border border-line p-2 font-mono text-xs">
              {outcome.log.join('\n')}
            </pre>
          )}
        </div>
      </div>
    </Dialog>
  );
}

/** The scripts of the project, what was done by hand, and what a script can say. */
function Shelf({ name, onOpen }: { name: string; onOpen: (name: string, text: string) => void }) {
  const scripts = useDocument((s) => s.whole?.scripts);
  return (
    <div className="min-w-0">
      <ul aria-label="Scripts of this project" className="mb-2">
        {scripts?.map((s) => (
          <li key={s.name} className="flex items-center">
            <button
              onClick={() => onOpen(s.name, s.text)}
              className={`min-h-6 min-w-0 flex-1 truncate rounded px-2 py-0.5 text-left hover:bg-accent-soft ${s.name === name ? 'bg-accent-soft font-medium' : ''}`}
            >
              {s.name}
            </button>
            <button
              aria-label={`Delete script ${s.name}`}
              onClick={() => dropScript(s.name)}
              className="px-1.5 text-ink-2 hover:text-accent"
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <button
        onClick={() => onOpen('Done by hand', recentLines())}
        className="mb-3 w-full rounded-md border border-line px-2 py-1 text-left hover:border-ink-2"
        title="The last edits of this session, as lines of a script"
      >
        What was done by hand
      </button>
      <dl className="text-xs">
        {HELP.map(([what, words]) => (
          <div key={what} className="mb-1">
            <dt className="font-mono text-[11px]">{what}</dt>
            <dd className="text-ink-2">{words}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}
