/**
 * What can be found out about a machine apart from a run of it. An analysis is declared once, in one file: its settings, what it works out, and what its output
 * is. The command line, the panel in the page and the reference follow from that.
 */
import type { z } from 'zod';
import type { Diagnosis } from '../../diagnosis';
import type { Model } from '../../model/document';
import type { Dimension } from '../../quantity/dimension';
import type { Mechanism } from '../../system/mechanism';

interface Common {
  readonly label: string;
  readonly help: string;
}
/** A whole number. */
export interface CountSetting extends Common {
  readonly type: 'count';
  readonly default: number;
  readonly least: number;
  readonly most: number;
}
/** A positive quantity, written with its unit. Left out: nothing. */
export interface QuantitySetting extends Common {
  readonly type: 'quantity';
  readonly dim: Dimension;
  readonly example: string;
}
/** One of which the dimension follows from what else is asked: it is given as it is typed. */
export interface AmountSetting extends Common {
  readonly type: 'amount';
  readonly example: string;
}
/** One of the names there are in a machine; with `several`, as many as one likes. */
export interface NameSetting extends Common {
  readonly type: 'name';
  readonly several?: true;
  readonly names: (of: { m: Mechanism; model: Model }) => readonly string[];
}
export type Setting = CountSetting | QuantitySetting | AmountSetting | NameSetting;
export type Settings = Readonly<Record<string, Setting>>;

type ValueOf<S extends Setting> = S extends CountSetting
  ? number
  : S extends QuantitySetting
    ? number | undefined
    : S extends AmountSetting
      ? string | undefined
      : S extends { several: true }
        ? readonly string[]
        : string;
export type Values<S extends Settings> = { readonly [K in keyof S]: ValueOf<S[K]> };

/** About what it is asked: as it is typed. */
export interface Given {
  readonly about?: About;
  /** Of `time`: the time of a run, with its unit. */
  readonly at?: string;
  readonly settings: Readonly<Record<string, string | readonly string[] | undefined>>;
}
/** The posture and motion it is about: the static equilibrium, the assembled posture with its start motion, or where a run is at a time. */
export const ABOUT_WORDS = {
  equilibrium: 'static equilibrium',
  start: 'as assembled',
  time: 'time of a run',
} as const;
export type About = keyof typeof ABOUT_WORDS;

export interface Asked<S extends Settings> {
  readonly model: Model;
  /** It stands where it is asked about, at this time. */
  readonly m: Mechanism;
  readonly t: number;
  readonly about: About;
  readonly of: Values<S>;
}

/** Postures to show, seven numbers a body each: one, a way from side to side (`swing`), or one round of a swing about a posture (`home`). */
export interface Shown {
  readonly frames: Float64Array;
  readonly swing?: true;
  readonly home?: Float64Array;
}
/** Values under a title, each as it is read. */
export interface Listed {
  readonly title: string;
  readonly rows: readonly (readonly [name: string, value: string])[];
}
/** One of the things that were found. */
export interface Item {
  readonly label: string;
  readonly detail: string;
  readonly lists?: readonly Listed[];
  readonly shown?: Shown;
  /** Where joints stand in its posture, if a run can begin there. */
  readonly start?: readonly { readonly joint: string; readonly freedom: 'rotation' | 'translation'; readonly position: number }[];
}
/** A chart. */
export interface Curves {
  readonly title: string;
  readonly x: { readonly label: string; readonly unit: string; readonly log?: true };
  readonly y: { readonly unit: string; readonly log?: true };
  /** In these units. Marks: each place by itself, no line. */
  readonly traces: readonly { readonly name: string; readonly x: Float64Array; readonly y: Float64Array; readonly marks?: true }[];
}
/** What is written as CSV. */
export interface Table {
  readonly columns: readonly { readonly name: string; readonly unit: string }[];
  readonly rows: readonly (readonly (string | number)[])[];
}
export interface Found {
  readonly items: readonly Item[];
  readonly curves?: readonly Curves[];
  readonly table: Table;
  /** What is written as JSON: as its `output` says. */
  readonly data: object;
  readonly diagnoses: readonly Diagnosis[];
}

export interface Analysis<S extends Settings = Settings> extends Common {
  /** In a call. */
  readonly name: string;
  /** The verb on its button. */
  readonly ask: string;
  readonly settings: S;
  /** The posture it is about where none is asked for. Left out: it looks for postures itself. */
  readonly about?: Exclude<About, 'time'>;
  /** Drives are always left out, and all that reads. */
  readonly undriven?: true;
  readonly output: z.ZodRawShape;
  /** Yields how far it has come, from 0 to 1. @throws Refusal */
  work(asked: Asked<S>): Generator<number, Found, void>;
}
/** Gives `work` the types of its settings. */
export const analysis = <const S extends Settings>(a: Analysis<S>): Analysis => a as unknown as Analysis;

/** What of a declaration is data: for a page. */
export interface Declared extends Common, Pick<Analysis, 'name' | 'ask' | 'about'> {
  /** What it can be about, in words. */
  readonly abouts: readonly (readonly [About, string])[];
  readonly settings: readonly (Common & { readonly key: string } & (
      | Omit<CountSetting, keyof Common>
      | Omit<QuantitySetting, keyof Common>
      | Omit<AmountSetting, keyof Common>
      | (Omit<NameSetting, keyof Common | 'names'> & { readonly names: readonly string[] })
    ))[];
}
