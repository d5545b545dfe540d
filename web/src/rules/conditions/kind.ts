import type { ConditionFields } from '../../api/types';

/** What the slots of a condition are given. */
export type ConditionSlots<C extends ConditionFields> = {
  condition: C;
  unit: string;
  faults: Record<string, string>;
  locked: boolean;
  change: (condition: C) => void;
};
