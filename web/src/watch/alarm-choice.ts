import { useSyncExternalStore } from 'react';
import type { Severity } from '../api/types';
import { SEVERITIES } from '../ui/severity';

/** What a browser does when something comes up: off until somebody asks for it, each severity by itself. */
export type Choice = Record<Severity, { sound: boolean; notice: boolean }>;

const KEY = 'alarms';
const NONE = Object.fromEntries(SEVERITIES.map((one) => [one, { sound: false, notice: false }])) as Choice;
const listeners = new Set<() => void>();
let known: Choice | null = null;

function read(): Choice {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Choice>;
    return Object.fromEntries(SEVERITIES.map((one) => [one, { ...NONE[one], ...kept[one] }])) as Choice;
  } catch {
    return NONE;
  }
}

export function chooseAlarms(choice: Choice): void {
  known = choice;
  localStorage.setItem(KEY, JSON.stringify(choice));
  listeners.forEach((tell) => tell());
}

/** What this browser was told to do. */
export function useAlarmChoice(): Choice {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => (known ??= read()),
  );
}

export const isAnyOn = (choice: Choice): boolean => SEVERITIES.some((one) => choice[one].sound || choice[one].notice);
