import { DAY } from '../model/calendar.ts';
import { leavesOf } from '../rulebook/condition.ts';
import { aroundWindow, betweenWindow, weeklyWindows, yearlyWindows, type Window } from '../facts/windows.ts';
import type { Zone } from '../model/zone.ts';
import type { Leaf } from '../facts/facts.ts';
import type { Rule } from '../rulebook/rulebook.ts';

/** A stretch of time that is looked at: from ≤ t < until, in epoch ms. */
export type Horizon = Window;

/** The dates that goods have, by their name, as written. */
export type Dates = ReadonlyMap<string, ReadonlySet<string>>;

type MomentLeaf = Extract<Leaf, { fact: 'moment' }>;

/** Steps at which a week's and a year's windows are asked for; each time they give those around it. */
const WEEK = 7 * DAY;
const YEAR = 365 * DAY;

/** The windows of a condition about time that touch the horizon; of product dates, those of all dates there are. */
function windowsOf(leaf: MomentLeaf, zone: Zone, dates: Dates, { from, until }: Horizon): Window[] {
  const stepped = (step: number, around: (instant: number) => readonly Window[]) => {
    const all: Window[] = [];
    for (let at = from; at < until + step; at += step) all.push(...around(at));
    return all;
  };
  const found =
    leaf.op === 'between'
      ? [betweenWindow(zone, leaf.value)]
      : leaf.op === 'weekly'
        ? stepped(WEEK, (at) => weeklyWindows(zone, leaf.value, at))
        : leaf.op === 'yearly'
          ? stepped(YEAR, (at) => yearlyWindows(zone, leaf.value, at))
          : [...(dates.get(leaf.value.date) ?? [])].flatMap((written) => aroundWindow(zone, leaf.value, written) ?? []);
  return found.filter((window) => window.from < window.until && window.from < until && window.until > from);
}

/** Every instant within the horizon at which a condition about time of any of these rules begins or ends to hold. */
export function instantsOf(rules: readonly Rule[], zone: Zone, dates: Dates, horizon: Horizon): number[] {
  const leaves = rules.flatMap(({ when }) => leavesOf(when)).filter((leaf) => leaf.fact === 'moment');
  const edges = leaves
    .flatMap((leaf) => windowsOf(leaf, zone, dates, horizon))
    .flatMap(({ from, until }) => [from, until])
    .filter((instant) => instant > horizon.from && instant < horizon.until);
  return [...new Set(edges)].sort((a, b) => a - b);
}
