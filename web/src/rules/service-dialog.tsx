import type { SpellDifference } from '../api/types';
import { Button, Field, Input } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { Differences, differenceWords } from './difference';

type Props = {
  open: boolean;
  /** What is changed, field by field. */
  changes: string[];
  /** What becomes of the alerts of the replayed span; null while nobody knows. */
  differences: SpellDifference[] | null;
  span: string;
  /** It comes from: what is changed here differs from it until somebody says which is meant. */
  file: string | null;
  reason: string;
  onReason: (reason: string) => void;
  onClose: () => void;
  onConfirm: () => void;
};

/** Before a rule in service is changed: what is changed, and what it would have changed. */
export function ServiceDialog({ open, changes, differences, span, file, reason, onReason, onClose, onConfirm }: Props) {
  return (
    <DialogBox open={open} onOpenChange={(next) => !next && onClose()} title="Put this into service?" wide={560}>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          onConfirm();
        }}
      >
        <ul className="space-y-1">
          {changes.map((change) => (
            <li key={change} className="break-words">
              {change}
            </li>
          ))}
        </ul>
        {differences && (
          <div className="border-t border-line pt-2">
            <p className="mb-1">
              In the {span}: {differenceWords(differences)}.
            </p>
            <Differences of={differences} />
          </div>
        )}
        {file && (
          <p role="note" className="rounded-lg bg-future px-3 py-2">
            This rule comes from <span className="font-mono text-[13px] break-all">{file}</span>. Changed here it differs from its
            file, and the next apply asks which of the two is meant.
          </p>
        )}
        <Field label="Why" help="it stands beside the revision, for whoever wonders later">
          <Input value={reason} maxLength={300} onChange={(event) => onReason(event.target.value)} />
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Not yet</Button>
          <Button look="accent" type="submit">
            {file ? 'Into service all the same' : 'Into service'}
          </Button>
        </div>
      </form>
    </DialogBox>
  );
}
