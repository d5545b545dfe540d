import type { ShownReach } from '../api/types';
import { Sheet } from '../ui/controls';
import { useNow } from '../ui/use-now';
import { contactWords } from './contacts-sheet';

/** How those on a roster are reached, and how sure that is. */
export function ReachSheet({ reach }: { reach: ShownReach[] }) {
  const now = useNow();
  return (
    <Sheet label="Can they be reached?" className="p-4">
      <h2>Can they be reached?</h2>
      <ul className="mt-1 divide-y divide-line">
        {reach.map((one) => (
          <li key={one.personId} className="py-1.5">
            {one.person}
            {one.contacts.map((contact) => (
              <span key={contact.way} className="flex justify-between gap-2 text-[13px]">
                <span className="text-muted">{contact.way}</span>
                <span
                  className={
                    contact.failedAt !== null
                      ? 'text-critical'
                      : contact.verifiedAt === null
                        ? 'font-semibold text-minor'
                        : 'text-accent'
                  }
                >
                  {contact.failedAt !== null ? 'failed last' : contactWords(contact, now)}
                </span>
              </span>
            ))}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
