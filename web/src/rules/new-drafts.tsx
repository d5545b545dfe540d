import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { rules as asked } from '../api/queries';
import { dayClock } from '../ui/format';
import { useZone } from '../ui/session';
import { draftIn } from './rule-fields';

/** Rules that are not there yet, as they were left. */
export function NewDrafts() {
  const zone = useZone();
  const drafts = useQuery(asked.newDrafts());
  if (!drafts.data || drafts.data.length === 0) return null;
  return (
    <p className="mt-2 flex flex-wrap gap-x-4 gap-y-1 text-muted">
      Not in service yet:
      {drafts.data.map((draft) => (
        <span key={draft.id}>
          <Link to="/rules/$id" params={{ id: 'new' }} search={{ draft: draft.id }} className="text-ink underline">
            {draftIn(draft).name || 'a rule without a name'}
          </Link>{' '}
          {draft.author}, {dayClock(draft.at, zone)}
        </span>
      ))}
    </p>
  );
}
