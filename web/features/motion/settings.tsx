'use client';
import { useState } from 'react';
import { localText, plainText } from '@vim-pivot/core/page';
import type { About, Declared } from '@vim-pivot/core/analyses';
import { timeShown, useRuns } from '@/state/runs/runs';
import { type Typed, findOut, type, useMotion } from '@/state/scene/motion';
import { CheckBox } from '@/ui/check';
import { Choice } from '@/ui/choice';

type Setting = Declared['settings'][number];
const NOTHING: Typed = { settings: {} };

/** What an analysis is asked: names at once, the rest behind a word. */
export function Settings({ analysis }: { analysis: Declared }) {
  const { name, settings, about } = analysis;
  const typed = useMotion((s) => s.typed[name]) ?? NOTHING;
  const names = settings.filter((s) => s.type === 'name'),
    rest = settings.filter((s) => s.type !== 'name');
  const row = (s: Setting) => <Row key={s.key} analysis={analysis} setting={s} typed={typed} />;
  return (
    <>
      {names.map(row)}
      {(rest.length > 0 || about) && (
        <details className="pt-0.5 text-xs" open={names.length > 1 || undefined}>
          <summary className="cursor-pointer text-ink-2">Settings</summary>
          <div className="flex min-w-0 flex-col gap-1 py-1">
            {about && <AboutRow analysis={analysis} usual={about} typed={typed} />}
            {rest.map(row)}
          </div>
        </details>
      )}
    </>
  );
}

const LABEL = 'w-28 shrink-0 text-ink-2';

function AboutRow({ analysis, usual, typed }: { analysis: Declared; usual: About; typed: Typed }) {
  const { name, label } = analysis;
  const time = useRuns(timeShown);
  const about = typed.about ?? usual;
  return (
    <>
      <div className="flex items-center gap-2" title="The posture and motion it is about">
        <span className={LABEL}>About</span>
        <Choice
          label={`${label}: about`}
          value={about}
          options={analysis.abouts.map(([value, text]) => ({ value, label: text }))}
          onChange={(v) =>
            type(name, { about: v as About, ...(v === 'time' && !typed.at ? { at: `${Number(time.toPrecision(6))} s` } : {}) })
          }
          className="h-[24px] min-w-0 flex-1 border-line bg-sheet"
        />
      </div>
      {about === 'time' && (
        <Field
          analysis={analysis}
          label={`${label}: time`}
          title="Time of a run of this model"
          text={typed.at ?? ''}
          placeholder="0.4 s"
          onText={(at) => type(name, { at })}
        >
          Time
        </Field>
      )}
    </>
  );
}

function Row({ analysis, setting, typed }: { analysis: Declared; setting: Setting; typed: Typed }) {
  const { name } = analysis;
  const { key, help } = setting;
  const label = `${analysis.label}: ${setting.label.toLowerCase()}`,
    now = typed.settings[key],
    put = (value: string | readonly string[]) => type(name, { settings: { ...typed.settings, [key]: value } });
  if (setting.type !== 'name') {
    const placeholder = setting.type === 'count' ? String(setting.default) : setting.example;
    return (
      <Field
        analysis={analysis}
        label={label}
        title={help}
        text={typeof now === 'string' ? now : ''}
        placeholder={placeholder}
        onText={put}
      >
        {setting.label}
      </Field>
    );
  }
  if (setting.several)
    return (
      <Ticks label={label} title={help} head={setting.label} names={setting.names} now={Array.isArray(now) ? now : []} onChange={put} />
    );
  const chosen = setting.names.find((n) => n === now) ?? setting.names[0] ?? '';
  return (
    <div className="flex items-center gap-2 pt-0.5 text-xs" title={help}>
      <span className={LABEL}>{setting.label}</span>
      <Choice
        label={label}
        value={chosen}
        options={setting.names.map((n) => ({ value: n, label: n }))}
        onChange={put}
        className="h-[24px] min-w-0 flex-1 border-line bg-sheet"
      />
    </div>
  );
}

/** Enter asks at once. */
function Field({
  analysis,
  label,
  title,
  text,
  placeholder,
  onText,
  children,
}: {
  analysis: Declared;
  label: string;
  title: string;
  text: string;
  placeholder: string;
  onText: (text: string) => void;
  children: React.ReactNode;
}) {
  return (
    <label className="flex items-center gap-2" title={title}>
      <span className={LABEL}>{children}</span>
      <input
        aria-label={label}
        value={localText(text)}
        placeholder={localText(placeholder)}
        spellCheck={false}
        onChange={(e) => onText(plainText(e.target.value))}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') findOut(analysis);
        }}
        className="min-w-0 flex-1 rounded border border-line bg-sheet px-1.5 py-0.5 font-mono"
      />
    </label>
  );
}

/** So many names and more can be filtered. */
const MANY = 10;

function Ticks({
  label,
  title,
  head,
  names,
  now,
  onChange,
}: {
  label: string;
  title: string;
  head: string;
  names: readonly string[];
  now: readonly string[];
  onChange: (names: readonly string[]) => void;
}) {
  const [part, setPart] = useState('');
  const shown = names.filter((n) => n.toLowerCase().includes(part.toLowerCase()));
  return (
    <div className="pt-0.5 text-xs" title={title}>
      <p className="flex items-center gap-2 text-ink-2">
        <span className="min-w-0 flex-1 truncate">
          {head}
          {now.length > 0 ? `: ${now.join(', ')}` : ''}
        </span>
        {names.length > MANY && (
          <input
            aria-label={`${label}, part of the name`}
            placeholder="part of a name"
            value={part}
            onChange={(e) => setPart(e.target.value)}
            onKeyDown={(e) => e.stopPropagation()}
            className="w-28 rounded border border-line bg-sheet px-1.5"
          />
        )}
      </p>
      <ul aria-label={label} className="max-h-24 overflow-auto rounded-md border border-line bg-sheet p-0.5">
        {shown.map((n) => (
          <li key={n}>
            <label className="flex items-center gap-2 px-1">
              <CheckBox checked={now.includes(n)} onChange={(on) => onChange(on ? [...now, n] : now.filter((x) => x !== n))} />
              <span className="min-w-0 flex-1 truncate" title={n}>
                {n}
              </span>
            </label>
          </li>
        ))}
        {shown.length === 0 && <li className="px-1 text-ink-2">{names.length === 0 ? 'The model has none.' : 'None is called so.'}</li>}
      </ul>
    </div>
  );
}
