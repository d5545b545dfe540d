import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, api } from '../api/client';
import type { Target, TargetTest } from '../api/types';
import { Button, Field, Input, Sheet } from '../ui/controls';
import { clock, quantity, span } from '../ui/format';
import { useMayChange, useZone } from '../ui/session';
import { useNow } from '../ui/use-now';

export function FleetPage() {
  const mayChange = useMayChange();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const find = useSearch({ from: '/fleet' }).find ?? '';
  const now = useNow(undefined);
  const targets = useQuery({ queryKey: ['targets'], queryFn: () => api<Target[]>('/api/targets'), refetchInterval: 5_000 });
  const pause = useMutation({
    mutationFn: (target: Target) => api(`/api/targets/${target.id}/pause`, { method: 'POST', body: { paused: !target.paused } }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['targets'] }),
    onError: (error) => toast.error(error.message),
  });
  const all = targets.data ?? [];
  const shown = all.filter((target) => `${target.name} ${Object.values(target.labels).join(' ')}`.toLowerCase().includes(find.toLowerCase()));
  const failing = all.filter((target) => !target.paused && target.status && !target.status.ok);
  const groups = [...Map.groupBy(shown, (target) => target.labels['service'] ?? 'no service')].sort(([a], [b]) => a.localeCompare(b));
  return (
    <>
      <div className="mt-4 flex flex-wrap items-center justify-between gap-3">
        <h1>
          {failing.length === 0 ? 'Every target answers. ' : `${failing.length} of ${all.length} targets ${failing.length === 1 ? 'fails' : 'fail'}. `}
          <span className="font-normal text-muted">{all.reduce((sum, target) => sum + (target.status?.readings ?? 0), 0).toLocaleString('en-US')} series from {all.length} targets.</span>
        </h1>
        <div className="flex gap-2">
          <Input type="search" aria-label="Search targets" placeholder="Search targets and labels" value={find} onChange={(event) => void navigate({ to: '/fleet', search: { find: event.target.value || undefined }, replace: true })} className="w-60" />
          {mayChange && <AddTarget />}
        </div>
      </div>
      <Sheet className="mt-3 overflow-x-auto" label="Targets">
        <table className="w-full">
          <thead className="text-left text-muted">
            <tr>
              {['last scrapes', 'target', 'newest', 'scrape', 'series', 'every', ''].map((name) => (
                <th key={name} className="px-3 py-2 font-normal">
                  {name || <span className="sr-only">actions</span>}
                </th>
              ))}
            </tr>
          </thead>
          {groups.map(([service, members]) => (
            <tbody key={service}>
              <tr className="border-t border-line bg-future">
                <th colSpan={7} scope="rowgroup" className="px-3 py-1 text-left font-semibold">
                  {service} <span className="font-normal text-muted">{members.length}</span>
                </th>
              </tr>
              {members.map((target) => (
                <tr key={target.id} className="border-t border-line">
                  <td className="px-3 py-1.5">
                    <Ribbon target={target} />
                  </td>
                  <td className="px-3 py-1.5">
                    <span className="font-semibold">{target.name}</span>{' '}
                    <span className="text-muted">
                      {['site', 'kind']
                        .map((name) => target.labels[name])
                        .filter(Boolean)
                        .join(' · ')}
                    </span>
                    {target.status && !target.status.ok && !target.paused && <span className="block max-w-xl text-[13px] break-words text-critical">{target.status.message}</span>}
                  </td>
                  <td className="px-3 py-1.5 whitespace-nowrap">{target.paused ? 'paused' : target.status?.okAt ? `${span(Math.max(0, now - target.status.okAt))} ago` : target.status ? 'never' : 'not asked yet'}</td>
                  <td className="px-3 py-1.5 whitespace-nowrap">{target.status ? quantity(target.status.seconds, 'seconds') : '–'}</td>
                  <td className="px-3 py-1.5">{target.status?.readings ?? '–'}</td>
                  <td className="px-3 py-1.5 whitespace-nowrap">{target.intervalSeconds} s</td>
                  <td className="px-3 py-1.5 text-right whitespace-nowrap">
                    <Link to="/metrics" search={{ formula: `olivine_scrape_duration_seconds where target = ${JSON.stringify(target.name)}`, span: '1h' }} className="px-2 text-muted hover:text-ink">
                      chart
                    </Link>
                    {mayChange && (
                      <Button look="quiet" onClick={() => pause.mutate(target)} aria-label={`${target.paused ? 'Resume' : 'Pause'} ${target.name}`}>
                        {target.paused ? 'resume' : 'pause'}
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          ))}
        </table>
        {targets.data && shown.length === 0 && <p className="px-3 py-4 text-muted">{all.length === 0 ? 'No targets yet. Add one by its URL; Olivine tests it before it is saved.' : 'No target has these words.'}</p>}
      </Sheet>
    </>
  );
}

/** Each of the last scrapes as a tick: tall on time, low and red failed, a gap where none came. */
function Ribbon({ target }: { target: Target }) {
  const zone = useZone();
  const ticks = target.ribbon;
  const failed = ticks.filter(([, ok]) => ok === 0).length;
  return (
    <svg width="124" height="18" role="img" aria-label={`${target.name}: ${ticks.length - failed} of the last ${ticks.length} scrapes succeeded`}>
      {ticks.map(([at, ok], i) => {
        const late = i > 0 && at - ticks[i - 1]![0] > target.intervalSeconds * 1500;
        return (
          <rect key={at} x={(30 - ticks.length + i) * 4 + 2} y={ok ? 3 : 10} width="2.4" height={ok ? 12 : 6} fill={ok ? (late ? 'var(--minor)' : 'var(--accent)') : 'var(--critical)'} opacity={target.paused ? 0.4 : 1}>
            <title>{`${clock(at, zone)}: ${ok ? (late ? 'late' : 'on time') : 'failed'}`}</title>
          </rect>
        );
      })}
    </svg>
  );
}

function AddTarget() {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [fields, setFields] = useState({ name: '', url: '', intervalSeconds: 15, service: '', site: '' });
  const body = { name: fields.name, url: fields.url, intervalSeconds: fields.intervalSeconds, labels: Object.fromEntries(Object.entries({ service: fields.service, site: fields.site }).filter(([, value]) => value !== '')) };
  const test = useMutation({ mutationFn: () => api<TargetTest>('/api/targets/test', { method: 'POST', body: { ...body, name: fields.name || 'test' } }) });
  const add = useMutation({
    mutationFn: () => api('/api/targets', { method: 'POST', body }),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['targets'] });
      toast(`${fields.name} is scraped every ${fields.intervalSeconds} s from now on.`);
      setOpen(false);
      setFields({ ...fields, name: '', url: '' });
    },
  });
  const problem = [add.error, test.error].find((error): error is ApiError => error instanceof ApiError);
  const fault = (field: string) => (problem?.field === field ? problem.message : undefined);
  const set = (part: Partial<typeof fields>) => {
    setFields({ ...fields, ...part });
    test.reset();
    add.reset();
  };
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        <Button look="accent">Add a target</Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/30" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-1/2 left-1/2 z-40 max-h-[92dvh] w-[min(520px,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-2xl border border-line bg-sheet p-6 shadow-xl">
          <Dialog.Title className="mb-4 text-[18px] font-semibold">Add a target</Dialog.Title>
          <form
            className="space-y-3"
            onSubmit={(event) => {
              event.preventDefault();
              add.mutate();
            }}
          >
            <Field label="URL of its metrics" error={fault('url')} help="For example http://10.0.4.7:9100/metrics">
              <Input name="url" value={fields.url} onChange={(event) => set({ url: event.target.value })} autoComplete="off" />
            </Field>
            <Field label="Name" error={fault('name')}>
              <Input name="name" value={fields.name} onChange={(event) => set({ name: event.target.value })} autoComplete="off" />
            </Field>
            <div className="grid grid-cols-3 gap-3">
              <Field label="Every, seconds" error={fault('intervalSeconds')}>
                <Input name="intervalSeconds" type="number" min={5} max={3600} value={fields.intervalSeconds} onChange={(event) => set({ intervalSeconds: Number(event.target.value) })} />
              </Field>
              <Field label="Service" error={fault('labels')}>
                <Input name="service" value={fields.service} onChange={(event) => set({ service: event.target.value })} />
              </Field>
              <Field label="Site">
                <Input name="site" value={fields.site} onChange={(event) => set({ site: event.target.value })} />
              </Field>
            </div>
            {test.data && (
              <p role="status" className={test.data.ok ? 'rounded-lg bg-accent-soft px-3 py-2' : 'rounded-lg border border-critical/40 px-3 py-2 break-words text-critical'}>
                {test.data.ok
                  ? `It answered in ${quantity(test.data.seconds ?? 0, 'seconds')} with ${test.data.series} series of ${test.data.families} families (${test.data.form}); ${(test.data.readingsADay ?? 0).toLocaleString('en-US')} readings a day.`
                  : test.data.message}
              </p>
            )}
            {problem && !problem.field && (
              <p role="alert" className="text-critical">
                {problem.message}
              </p>
            )}
            <div className="flex justify-end gap-2 pt-2">
              <Dialog.Close asChild>
                <Button>Cancel</Button>
              </Dialog.Close>
              <Button onClick={() => test.mutate()} disabled={test.isPending || !fields.url}>
                {test.isPending ? 'Asking …' : 'Test'}
              </Button>
              <Button type="submit" look="accent" disabled={add.isPending || !fields.url || !fields.name}>
                Add
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
