import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import clsx from 'clsx';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { ShownTemplate, TemplatesPage as Page, TemplateWay } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Field, Select, Sheet, TextArea } from '../ui/controls';
import { DefaultMark } from '../ui/default-mark';
import { dayClock } from '../ui/format';
import { FormFaults, TextField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { PageHead } from '../ui/page-head';
import { sayFailure } from '../ui/say-failure';
import { useMay, useZone } from '../ui/session';
import { DeliveryTabs } from './delivery-tabs';
import { TemplatePreview } from './template-preview';

const MONO = 'var(--font-mono)';

/** How each channel words what it says, to everyone or to a team, beside what that makes of a real incident. */
export function TemplatesPage() {
  const templates = useQuery(delivery.templates());
  return (
    <>
      <DeliveryTabs />
      <div className="mt-2">
        <PageHead title="Templates">{templates.data?.words ?? 'How messages are worded.'}</PageHead>
      </div>
      <Answered of={templates} what="the templates">
        {(page) => <Chosen page={page} />}
      </Answered>
    </>
  );
}

function Chosen({ page }: { page: Page }) {
  const { way: asked, team = '' } = useSearch({ from: '/signed-in/delivery/templates' });
  const navigate = useNavigate();
  const way = page.ways.find((one) => one.name === asked) ?? page.ways[0]!;
  const template = page.templates.find((one) => one.way === way.name && one.team === team);
  const to = (search: { way: string; team?: string }) => void navigate({ to: '/delivery/templates', search });
  return (
    <div className="mt-3 grid grid-cols-[15rem_1fr] items-start gap-3 max-md:grid-cols-1">
      <Sheet label="Channels" className="p-2">
        <ul>
          {page.ways.map((one) => {
            const own = page.templates.filter((of) => of.way === one.name);
            return (
              <li key={one.name}>
                <button
                  type="button"
                  aria-current={one.name === way.name}
                  onClick={() => to({ way: one.name })}
                  className={clsx(
                    'w-full rounded-lg px-2.5 py-1.5 text-left hover:bg-future',
                    one.name === way.name && 'bg-accent-soft',
                  )}
                >
                  <span className="font-semibold">{one.name}</span>{' '}
                  {one.kind !== one.name && <span className="text-muted">{one.kind}</span>}
                  <span className="block text-[13px] text-muted">
                    {own.map((of) => of.team || 'everyone').join(', ')}
                    {own.length > 0 && ' · '}as it ships
                    <DefaultMark />
                  </span>
                </button>
              </li>
            );
          })}
        </ul>
      </Sheet>
      <Editor
        key={`${way.name} ${team} ${template?.number ?? 0}`}
        way={way}
        team={team}
        template={template}
        page={page}
        onTeam={(name) => to({ way: way.name, ...(name && { team: name }) })}
      />
    </div>
  );
}

type Of = { way: TemplateWay; team: string; template?: ShownTemplate; page: Page; onTeam: (team: string) => void };

function Editor({ way, team, template, page, onTeam }: Of) {
  const may = useMay();
  const queries = useQueryClient();
  const keep = (next: Page) => queries.setQueryData(delivery.templates().queryKey, next);
  const form = useSheetForm<ShownTemplate | null, { subject: string; text: string }, Page>({
    of: template ?? null,
    fieldsOf: (of) => ({ subject: of?.subject ?? '', text: of?.text ?? '' }),
    save: (fields, of) => send('put', '/api/templates', { body: { ...fields, way: way.name, team, number: of?.number ?? 0 } }),
    onSaved: (next) => {
      keep(next);
      void queries.invalidateQueries({ queryKey: delivery.wordings(way.name, team).queryKey });
      toast(`${way.name} is worded so from its next message on.`);
    },
  });
  const remove = useMutation({
    mutationFn: (of: ShownTemplate) =>
      send('post', '/api/templates/remove', { body: { way: way.name, team, number: of.number } }),
    onSuccess: (next) => {
      keep(next);
      void queries.invalidateQueries({ queryKey: delivery.wordings(way.name, team).queryKey });
      toast(`${way.name} is worded as it ships. The revisions below lead back.`);
    },
    onError: sayFailure,
  });
  const { subject, text } = form.fields;
  return (
    <div className="grid min-w-0 grid-cols-2 items-start gap-3 max-lg:grid-cols-1">
      <Sheet label="Template" className="p-4">
        <form onSubmit={form.submit} className="grid gap-3">
          <Field label="For" help="Who is of several teams is told in the words of the first that has some">
            <Select value={team} onChange={(event) => onTeam(event.target.value)}>
              <option value="">everyone</option>
              {page.teams.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </Select>
          </Field>
          {way.titled && (
            <TextField form={form} name="subject" label="Title" help="Left empty: as it ships" style={{ fontFamily: MONO }} />
          )}
          <Field label="Text" error={form.fault('text')} help="Twig: {{ a value }}, {% if %}, {% for %}. Left empty: as it ships">
            <TextArea rows={9} className="font-mono !text-[13px]" {...form.register('text')} />
          </Field>
          <FormFaults form={form} words={{ subject: 'title', text: 'text' }} />
          <div className="flex justify-end gap-2">
            {template && (
              <Button disabled={remove.isPending} onClick={() => remove.mutate(template)}>
                As it ships
              </Button>
            )}
            {may('set who hears') && (
              <Button type="submit" look="accent" disabled={!form.changed || form.formState.isSubmitting}>
                Word it so
              </Button>
            )}
          </div>
        </form>
        <Meaning page={page} />
      </Sheet>
      <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-3">
        <TemplatePreview way={way} subject={subject} text={text} />
        <Revisions
          way={way.name}
          team={team}
          onBack={(one) => {
            form.setValue('subject', one.subject, { shouldDirty: true });
            form.setValue('text', one.text, { shouldDirty: true });
          }}
        />
      </div>
    </div>
  );
}

function Meaning({ page }: { page: Page }) {
  return (
    <details className="mt-3">
      <summary className="cursor-pointer text-muted">What it may say</summary>
      <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5 text-[13px]">
        {Object.entries(page.meaning).map(([name, words]) => (
          <div key={name} className="contents">
            <dt className="font-mono">{name}</dt>
            <dd className="text-muted">{words}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}

function Revisions({ way, team, onBack }: { way: string; team: string; onBack: (one: ShownTemplate) => void }) {
  const zone = useZone();
  const revisions = useQuery(delivery.wordings(way, team));
  if (!revisions.data || revisions.data.length === 0) return null;
  return (
    <Sheet label="Revisions" className="p-4">
      <h2>Revisions</h2>
      <ol className="mt-1 space-y-1.5">
        {revisions.data.map((one) => (
          <li key={one.number} className="flex items-baseline gap-2">
            <strong className="font-semibold">{one.number}</strong>
            <span className="whitespace-nowrap">{dayClock(one.at, zone)}</span>
            <span className="text-muted">{one.author}</span>
            <span className="min-w-0 flex-1 truncate font-mono text-[12.5px] text-muted">
              {one.removed ? 'back to what ships' : one.text || one.subject}
            </span>
            {!one.removed && <Button onClick={() => onBack(one)}>Take it</Button>}
          </li>
        ))}
      </ol>
    </Sheet>
  );
}
