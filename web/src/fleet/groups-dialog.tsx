import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Controller } from 'react-hook-form';
import { toast } from 'sonner';
import { send } from '../api/client';
import { fleet } from '../api/queries';
import type { TargetGroup } from '../api/types';
import { Answered } from '../ui/answered';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { many, span } from '../ui/format';
import { DialogForm, DurationField, FormFaults, TextField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { CredentialFields, NO_CREDENTIAL, credentialBody, credentialWords } from './credential-fields';
import { LabelFields } from './label-fields';
import { sayFailure } from '../ui/say-failure';

/** Groups carry settings that their targets inherit. */
export function GroupsDialog() {
  const [open, setOpen] = useState(false);
  const [edited, setEdited] = useState<TargetGroup | 'new' | null>(null);
  const groups = useQuery({ ...fleet.groups(), enabled: open });
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
          <Answered
            of={groups}
            what="the groups"
            isEmpty={(found) => found.length === 0}
            empty={<p className="py-3 text-muted">No groups yet.</p>}
          >
            {(found) => (
              <ul className="my-3 divide-y divide-line border-y border-line">
                {found.map((group) => (
                  <li key={group.id} className="flex items-center gap-3 py-2">
                    <span className="min-w-0 flex-1">
                      <span className="font-semibold">{group.name}</span>{' '}
                      <span className="text-muted">{many(group.members, 'target')}</span>
                      <span className="block text-[13px] text-muted">
                        every {span(group.intervalSeconds * 1000)} · gives up after {span(group.timeoutSeconds * 1000)}
                        {Object.entries(group.labels).map(([name, value]) => ` · ${name} ${value}`)} · credential{' '}
                        {credentialWords(group.credential)}
                      </span>
                    </span>
                    <Button onClick={() => setEdited(group)}>Change</Button>
                  </li>
                ))}
              </ul>
            )}
          </Answered>
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
  labels: group?.labels ?? {},
  credential: NO_CREDENTIAL,
});
type Fields = ReturnType<typeof fieldsOf>;

function GroupForm({ group, onDone }: { group?: TargetGroup; onDone: () => void }) {
  const queries = useQueryClient();
  const done = (words: string) => {
    void queries.invalidateQueries({ queryKey: fleet.key });
    toast(words);
    onDone();
  };
  const form = useSheetForm<TargetGroup | undefined, Fields, TargetGroup>({
    of: group,
    fieldsOf,
    save: ({ credential, ...rest }, of) => {
      const body = { ...rest, ...credentialBody(credential) };
      return of
        ? send('put', '/api/groups/{id}', { path: { id: of.id }, body: { ...body, version: of.version } })
        : send('post', '/api/groups', { body });
    },
    onSaved: (saved) =>
      done(
        saved.members === 0
          ? `Group ${saved.name} is there.`
          : `${many(saved.members, 'target follows', 'targets follow')} ${saved.name}.`,
      ),
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/groups/{id}', { path: { id: group!.id } }),
    onSuccess: () => done(`Removed group ${group!.name}.`),
    onError: sayFailure,
  });
  return (
    <DialogForm form={form}>
      <TextField form={form} name="name" label="Name" />
      <div className="grid grid-cols-2 gap-3">
        <DurationField form={form} name="intervalSeconds" label="Scraped every" />
        <DurationField form={form} name="timeoutSeconds" label="Gives up after" />
      </div>
      <Controller
        control={form.control}
        name="labels"
        render={({ field }) => <LabelFields value={field.value} error={form.fault('labels')} onChange={field.onChange} />}
      />
      <Controller
        control={form.control}
        name="credential"
        render={({ field }) => (
          <CredentialFields
            shown={group?.credential ?? null}
            draft={field.value}
            error={form.fault('credential')}
            onChange={field.onChange}
          />
        )}
      />
      <FormFaults
        form={form}
        secret="credential"
        words={{ intervalSeconds: 'scraped every, seconds', timeoutSeconds: 'gives up after, seconds' }}
      />
      <div className="flex justify-end gap-2 pt-2">
        {group && (
          <Button look="quiet" className="mr-auto" onClick={() => remove.mutate()}>
            Remove
          </Button>
        )}
        <Button onClick={onDone}>Back</Button>
        <Button type="submit" look="accent" disabled={!form.fields.name || form.formState.isSubmitting}>
          Save
        </Button>
      </div>
    </DialogForm>
  );
}
