import { useMutation } from '@tanstack/react-query';
import type { FoundPartner } from '../../api/types';
import { Button, Field, TextArea } from '../../ui/controls';
import { DatabaseLogin, type Passwords } from './database-login';
import { type Other, partnerLine, partnersOf } from './other-fields';
import { Patience, Seconds } from './patience';

type Props = {
  value: Other;
  secrets: Passwords;
  error: string | undefined;
  onChange: (part: Partial<Other>) => void;
  /** Asks the source who follows it. */
  find: () => Promise<FoundPartner[]>;
};

/** A database, and those that follow it, chosen from what it knows of them. */
export function ReplicationFields({ value, secrets, error, onChange, find }: Props) {
  const found = useMutation({ mutationFn: find });
  const chosen = partnersOf(value.partners);
  const isChosen = (one: FoundPartner) => chosen.some(({ host, port }) => host === one.host && port === one.port);
  const choose = (one: FoundPartner, isIn: boolean) => {
    const others = chosen.filter(({ host, port }) => host !== one.host || port !== one.port);
    onChange({ partners: (isIn ? [...others, one] : others).map(partnerLine).join('\n') });
  };
  return (
    <fieldset className="space-y-2 rounded-lg border border-line p-3">
      <legend className="px-1 font-medium">What is asked</legend>
      <DatabaseLogin value={value} server="Source" secrets={secrets} error={error} onChange={onChange} />
      <Field label="Partners" help="a line each: skarn = db-2, or skarn = db-2:3307. They are asked as the same user.">
        <TextArea
          className="min-h-16 font-mono text-[12.5px]"
          value={value.partners}
          spellCheck={false}
          onChange={(event) => onChange({ partners: event.target.value })}
        />
      </Field>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <Button disabled={found.isPending || value.host === '' || value.user === ''} onClick={() => found.mutate()}>
          {found.isPending ? 'Asking …' : 'Ask the source who follows it'}
        </Button>
        {found.data?.map((one) => (
          <label key={partnerLine(one)} className="inline-flex items-center gap-1.5">
            <input type="checkbox" checked={isChosen(one)} onChange={(event) => choose(one, event.target.checked)} />
            {one.name === one.host ? one.host : `${one.name} (${one.host})`}
          </label>
        ))}
        {found.data?.length === 0 && <span className="text-muted">It knows nobody who follows it now.</span>}
        {found.error && (
          <p role="alert" className="text-[13px] text-critical">
            {found.error.message}
          </p>
        )}
      </div>
      <div className="grid grid-cols-[1fr_auto] items-start gap-3 max-sm:grid-cols-1">
        <Seconds
          label="May be behind"
          help="seconds"
          value={value.mostSeconds}
          onChange={(mostSeconds) => onChange({ mostSeconds })}
        />
        <Patience value={value} help="seconds, each of them" onChange={onChange} />
      </div>
    </fieldset>
  );
}
