import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useDeferredValue, useMemo, useState } from 'react';
import { rules as asked } from '../api/queries';
import type { RuleRow } from '../api/types';
import { Answered } from '../ui/answered';
import { Input, Sheet, smallLook } from '../ui/controls';
import { Spelt, many } from '../ui/format';
import { hasWords } from '../ui/has-words';
import { PageHead } from '../ui/page-head';
import { useMay } from '../ui/session';
import { ColumnsMenu } from '../ui/table/columns';
import { Table } from '../ui/table/table';
import { RULE_COLUMNS, isBroken } from './columns';
import { ManyRulesBar } from './many-rules-bar';
import { NewDrafts } from './new-drafts';
import { RulesTabs } from './rules-tabs';

const ROW_HEIGHT = 52;
const ONLY: Record<'raised' | 'broken' | 'off', (rule: RuleRow) => boolean> = {
  raised: ({ phases }) => (phases['raised'] ?? 0) + (phases['easing'] ?? 0) > 0,
  broken: isBroken,
  off: (rule) => !rule.enabled,
};
const idOf = (rule: RuleRow) => rule.id;
const nameOf = (rule: RuleRow) => rule.definition.name;

/** Every rule in a row; search and order stand in the address. */
export function RulesPage() {
  const rules = useQuery({ ...asked.all(), refetchInterval: 10_000 });
  return (
    <>
      <RulesTabs />
      <Answered of={rules} what="the rules" className="py-10">
        {(data) => <Rules rules={data} />}
      </Answered>
    </>
  );
}

function Rules({ rules }: { rules: RuleRow[] }) {
  const may = useMay();
  const navigate = useNavigate();
  const search = useSearch({ from: '/signed-in/rules' });
  const { find = '', sort = 'name', order, only } = search;
  const set = (part: Partial<typeof search>) => void navigate({ to: '/rules', search: { ...search, ...part }, replace: true });
  const wanted = useDeferredValue(find);
  const shown = useMemo(() => {
    const fits = hasWords(wanted);
    const isWanted = only ? ONLY[only] : () => true;
    return rules.filter(
      (rule) =>
        isWanted(rule) &&
        fits(`${rule.definition.name} ${rule.definition.formula} ${rule.definition.service} ${rule.definition.owner}`),
    );
  }, [rules, wanted, only]);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const shownIds = useMemo(() => new Set(shown.map(idOf)), [shown]);
  const raised = rules.filter(ONLY.raised).length;
  const broken = rules.filter(isBroken).length;
  const inService = `${many(rules.filter((rule) => rule.enabled).length, 'rule')} in service, `;
  const brokenWords = broken === 0 ? '' : `${Spelt(broken).toLowerCase()} of them ${broken === 1 ? 'is' : 'are'} broken, `;
  const raisedWords = raised === 0 ? 'none raised now.' : `${raised} with a raised alert.`;
  return (
    <>
      <div className="mt-3 flex flex-wrap items-center justify-between gap-3">
        <PageHead title="Rules" means={inService + brokenWords + raisedWords}>
          {inService}
          {broken > 0 && <span className="text-critical">{brokenWords}</span>}
          <span className="font-normal text-muted">{raisedWords}</span>
        </PageHead>
        {chosen.size > 0 && (
          <ManyRulesBar
            chosen={chosen}
            unseen={[...chosen].filter((id) => !shownIds.has(id)).length}
            onDone={() => setChosen(new Set())}
          />
        )}
        <div className={clsx('flex gap-2', chosen.size > 0 && 'hidden')}>
          <Input
            type="search"
            aria-label="Search rules"
            placeholder="Search rules"
            value={find}
            onChange={(event) => set({ find: event.target.value || undefined })}
            className="w-56"
          />
          <select
            aria-label="Which rules"
            value={only ?? ''}
            onChange={(event) => set({ only: (event.target.value || undefined) as typeof only })}
            className={smallLook}
          >
            <option value="">all rules</option>
            <option value="raised">raised now</option>
            <option value="broken">broken</option>
            <option value="off">switched off</option>
          </select>
          <ColumnsMenu list="rules" columns={RULE_COLUMNS} />
          {may('write rules') && (
            <Link
              to="/rules/$id"
              params={{ id: 'new' }}
              search={{}}
              className="rounded-lg bg-accent px-3.5 py-1.5 font-semibold whitespace-nowrap text-sheet"
            >
              New rule
            </Link>
          )}
        </div>
      </div>
      {may('write rules') && <NewDrafts />}
      <Sheet className="mt-3 overflow-x-auto" label="Rules">
        <div className="max-lg:min-w-[850px]">
          <Table
            label="Rules"
            remembered="rules"
            columns={RULE_COLUMNS}
            rows={shown}
            idOf={idOf}
            nameOf={nameOf}
            sort={{ by: sort, down: order === 'down' }}
            onSort={(next) => set({ sort: next.by, order: next.down ? 'down' : undefined })}
            onOpen={(rule) => void navigate({ to: '/rules/$id', params: { id: String(rule.id) }, search: {} })}
            rowHeight={ROW_HEIGHT}
            chosen={chosen}
            onChoose={may('write rules') ? setChosen : undefined}
            empty={
              <p className="border-t border-line px-3 py-4 text-muted">
                {rules.length === 0 ? 'No rules yet. Open Metrics, find a chart, and write a rule from it.' : 'No rule is so.'}
              </p>
            }
          />
        </div>
      </Sheet>
    </>
  );
}
