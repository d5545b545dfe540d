import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, read, send } from '../api/client';
import type { TargetGroup } from '../api/types';
import { Button, Field, Input } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { Meanwhile } from '../ui/meanwhile';
import { CredentialFields, NO_CREDENTIAL, credentialBody, credentialWords } from './credential-fields';
import { LabelFields, labelBody, type LabelRow } from './label-fields';

/** Groups carry settings that their targets inherit. */
export function GroupsDialog() {
  const [open, setOpen] = useState(false);
  const [edited, setEdited] = useState<TargetGroup | 'new' | null>(null);
  const groups = useQuery({ queryKey: ['groups'], queryFn: () => read('/api/groups') });
  return (
    <DialogBox
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setEdited(null);
      }}
      title={edited === null ? 'Groups' : edited === 'new' ? 'A new group' : `Group ${edited.name}`}
      trigger={<Button>Groups</Button>}
    >
      {edited !== null ? (
        <GroupForm group={edited === 'new' ? undefined : edited} onDone={() => setEdited(null)} />
      ) : (
        <>
          <p className="text-muted">What a target leaves empty comes from its group: interval, patience, labels, credential.</p>
          <ul className="my-3 divide-y divide-line border-y border-line">
            {groups.data?.map((group) => (
              <li key={group.id} className="flex items-center gap-3 py-2">
                <span className="min-w-0 flex-1">
                  <span className="font-semibold">{group.name}</span>{' '}
                  <span className="text-muted">{group.members === 1 ? '1 target' : `${group.members} targets`}</span>
                  <span className="block text-[13px] text-muted">
                    every {group.intervalSeconds} s · gives up after {group.timeoutSeconds} s
                    {Object.entries(group.labels).map(([name, value]) => ` · ${name} ${value}`)} · credential{' '}
                    {credentialWords(group.credential)}
                  </span>
                </span>
                <Button onClick={() => setEdited(group)}>Change</Button>
              </li>
            ))}
            {groups.data?.length === 0 && <li className="py-3 text-muted">No groups yet.</li>}
          </ul>
          <div className="flex justify-end">
            <Button look="accent" onClick={() => setEdited('new')}>
              Add a group
            </Button>
          </div>
        </>
      )}
    </DialogBox>
  );
}

const fieldsOf = (group: TargetGroup | undefined) => ({
  name: group?.name ?? '',
  intervalSeconds: group?.intervalSeconds ?? 15,
  timeoutSeconds: group?.timeoutSeconds ?? 10,
});

function GroupForm({ group, onDone }: { group?: TargetGroup; onDone: () => void }) {
  const queries = useQueryClient();
  const [base, setBase] = useState(group);
  const [fields, setFields] = useState(() => fieldsOf(base));
  const [labels, setLabels] = useState<LabelRow[]>(() => Object.entries(group?.labels ?? {}));
  const [credential, setCredential] = useState(NO_CREDENTIAL);
  const done = (words: string) => {
    void queries.invalidateQueries({ queryKey: ['groups'] });
    void queries.invalidateQueries({ queryKey: ['targets'] });
    toast(words);
    onDone();
  };
  const save = useMutation({
    mutationFn: () => {
      const body = { ...fields, labels: labelBody(labels), ...credentialBody(credential) };
      return base
        ? send('put', '/api/groups/{id}', { path: { id: base.id }, body: { ...body, version: base.version } })
        : send('post', '/api/groups', { body });
    },
    onSuccess: (saved) =>
      done(
        saved.members === 0
          ? `Group ${saved.name} is there.`
          : saved.members === 1
            ? `1 target follows ${saved.name}.`
            : `${saved.members} targets follow ${saved.name}.`,
      ),
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/groups/{id}', { path: { id: group!.id } }),
    onSuccess: () => done(`Removed group ${group!.name}.`),
    onError: (error) => toast.error(error.message),
  });
  const problem = save.error instanceof ApiError ? save.error : undefined;
  const there = problem?.status === 409 ? (problem.now as TargetGroup | undefined) : undefined;
  const fault = (field: string) => (problem?.field === field ? problem.message : undefined);
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <Field label="Name" error={fault('name')}>
        <Input name="name" value={fields.name} onChange={(event) => setFields({ ...fields, name: event.target.value })} />
      </Field>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Every, seconds" error={fault('intervalSeconds')}>
          <Input
            name="intervalSeconds"
            type="number"
            min={5}
            max={3600}
            value={fields.intervalSeconds}
            onChange={(event) => setFields({ ...fields, intervalSeconds: Number(event.target.value) })}
          />
        </Field>
        <Field label="Gives up after, seconds" error={fault('timeoutSeconds')}>
          <Input
            name="timeoutSeconds"
            type="number"
            min={1}
            max={60}
            value={fields.timeoutSeconds}
            onChange={(event) => setFields({ ...fields, timeoutSeconds: Number(event.target.value) })}
          />
        </Field>
      </div>
      <LabelFields rows={labels} error={fault('labels')} onChange={setLabels} />
      <CredentialFields
        shown={group?.credential ?? null}
        draft={credential}
        error={fault('credential')}
        onChange={setCredential}
      />
      {there && base && (
        <Meanwhile
          was={{ ...fieldsOf(base), labels: base.labels }}
          theirs={{ ...fieldsOf(there), labels: there.labels }}
          mine={{ ...fields, labels: labelBody(labels) }}
          words={{ intervalSeconds: 'every, seconds', timeoutSeconds: 'gives up after, seconds' }}
          onMerge={({ labels: taken, ...rest }) => {
            setFields(rest);
            setLabels(Object.entries(taken));
            setBase(there);
            save.reset();
          }}
        />
      )}
      {problem && !problem.field && !there && (
        <p role="alert" className="text-critical">
          {problem.message}
        </p>
      )}
      <div className="flex justify-end gap-2 pt-2">
        {group && (
          <Button look="quiet" className="mr-auto" onClick={() => remove.mutate()}>
            Remove
          </Button>
        )}
        <Button onClick={onDone}>Back</Button>
        <Button type="submit" look="accent" disabled={!fields.name || save.isPending}>
          Save
        </Button>
      </div>
    </form>
  );
}
