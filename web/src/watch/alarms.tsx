import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useEffect, useRef, useState } from 'react';
import { watch as asked } from '../api/queries';
import type { Severity } from '../api/types';
import { Button } from '../ui/controls';
import { many, tied } from '../ui/format';
import { Crystal, SEVERITIES } from '../ui/severity';
import { isAnyOn, useAlarmChoice } from './alarm-choice';
import { type Known, gravest, newsOf, stacked } from './news';
import { mayBeHeard, play } from './sound';

const SHOWN = 3;
const OFTEN_MS = 4_000;
const SELDOM_MS = 60_000;

/** Wherever one is: what came up is heard, shown by the browser and stacked in a corner, as chosen; the tab shows the gravest that is open. */
export function Alarms() {
  const choice = useAlarmChoice();
  const watch = useQuery({
    ...asked.over(6),
    refetchInterval: isAnyOn(choice) ? OFTEN_MS : SELDOM_MS,
    refetchIntervalInBackground: true,
  });
  const open = watch.data?.open;
  const known = useRef<Known | null>(null);
  const [unread, setUnread] = useState<number[]>([]);
  useEffect(() => {
    if (!open) return;
    const { news, known: now } = newsOf(known.current, open);
    known.current = now;
    const heard = news.filter((one) => choice[one.severity].sound)[0];
    if (heard) play(heard.severity);
    const shown = news.filter((one) => choice[one.severity].notice);
    shown.forEach((one) => notify(one.id, one.severity, one.title));
    if (shown.length > 0)
      setUnread((before) => [...before.filter((id) => !shown.some((one) => one.id === id)), ...shown.map((one) => one.id)]);
  }, [open, choice]);
  useTabIcon(open ? gravest(open) : null);
  const stack = stacked(unread, open ?? []);
  const isDeaf = useDeafness(SEVERITIES.some((one) => choice[one].sound));
  if (stack.length === 0 && !isDeaf) return null;
  const read = (id: number) => setUnread((before) => before.filter((one) => one !== id));
  return (
    <section
      aria-label="Unread"
      role="alert"
      className="fixed right-4 bottom-4 z-30 w-80 max-w-[calc(100vw-2rem)] space-y-2 max-sm:top-14 max-sm:bottom-auto"
    >
      {isDeaf && (
        <p className="rounded-xl border border-line bg-sheet px-3 py-2 shadow-lg">
          The browser lets nothing be heard here before you press something on this page. Press anywhere.
        </p>
      )}
      {stack.slice(0, SHOWN).map((one) => (
        <div key={one.id} className="flex items-start gap-2.5 rounded-xl border border-line bg-sheet p-3 shadow-lg">
          <span className="mt-0.5">
            <Crystal severity={one.severity} />
          </span>
          <Link
            to="/incidents/$id"
            params={{ id: String(one.id) }}
            className="min-w-0 flex-1 font-semibold"
            onClick={() => read(one.id)}
          >
            {tied(one.title)}
          </Link>
          <Button look="quiet" aria-label={`Seen: ${one.title}`} onClick={() => read(one.id)}>
            ✕
          </Button>
        </div>
      ))}
      {stack.length > SHOWN && (
        <p className="rounded-xl border border-line bg-sheet px-3 py-1.5 text-muted shadow-lg">
          {many(stack.length - SHOWN, 'more is', 'more are')} unread, none graver.
        </p>
      )}
    </section>
  );
}

/** Whether sounds are wanted, and the browser keeps them back until somebody presses something; then they are let through. */
function useDeafness(wantsSound: boolean): boolean {
  const [isDeaf, setIsDeaf] = useState(false);
  useEffect(() => {
    if (!wantsSound) return;
    let stays = true;
    const tell = () => void mayBeHeard().then((may) => stays && setIsDeaf(!may));
    tell();
    addEventListener('pointerup', tell);
    addEventListener('keyup', tell);
    return () => {
      stays = false;
      removeEventListener('pointerup', tell);
      removeEventListener('keyup', tell);
    };
  }, [wantsSound]);
  return wantsSound && isDeaf;
}

/** By the browser, where it was allowed to; what is told again of an incident takes the place of what was told before. */
function notify(id: number, severity: Severity, title: string): void {
  if (typeof Notification === 'undefined' || Notification.permission !== 'granted') return;
  const shown = new Notification(`${severity}: ${title}`, { tag: `incident-${id}`, requireInteraction: severity === 'critical' });
  shown.onclick = () => {
    window.focus();
    location.assign(`/incidents/${id}`);
  };
}

/** Shape and hue, as on the pages: a hexagon, a rhombus, half of one, an open one. */
const ICONS: Record<Severity, string> = {
  critical: '<path d="M8 1 14.1 4.5V11.5L8 15 1.9 11.5V4.5Z" fill="#d3265a"/>',
  major: '<path d="M8 1 13.5 8 8 15 2.5 8Z" fill="#e0701a"/>',
  minor:
    '<path d="M8 1.8 13 8 8 14.2 3 8Z" fill="#fff" stroke="#b58a00" stroke-width="1.5"/><path d="M8 1.8V14.2L3 8Z" fill="#b58a00"/>',
  warning: '<path d="M8 1.8 13 8 8 14.2 3 8Z" fill="#fff" stroke="#3f86c0" stroke-width="2"/>',
};

function useTabIcon(severity: Severity | null): void {
  const calm = useRef<string | null>(null);
  useEffect(() => {
    const icon = document.querySelector<HTMLLinkElement>('link[rel=icon]');
    if (!icon) return;
    calm.current ??= icon.href;
    icon.href =
      severity === null
        ? calm.current
        : `data:image/svg+xml,${encodeURIComponent(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 16 16">${ICONS[severity]}</svg>`)}`;
  }, [severity]);
}
