import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import clsx from 'clsx';
import { DropdownMenu } from 'radix-ui';
import { Suspense, lazy, useEffect, useState } from 'react';
import { send } from '../api/client';
import { watch as asked } from '../api/queries';
import mark from '../olivine.svg';
import { FindButton } from './find-button';
import { clock } from './format';
import { useSession, useZone } from './session';
import { type Theme, chooseTheme, chosenTheme } from './theme';
import { useNow } from './use-now';
import { nearZones, zoneNote } from './zone';

const WishesDialog = lazy(() => import('../delivery/wishes-dialog'));
const AlarmsDialog = lazy(() => import('../watch/alarms-dialog'));
const PasswordDialog = lazy(() => import('../people/password-dialog'));
const PAGES = [
  ['/', 'Watch'],
  ['/fleet', 'Fleet'],
  ['/metrics', 'Metrics'],
  ['/rules', 'Rules'],
  ['/delivery', 'Delivery'],
  ['/roster', 'Roster'],
  ['/setup', 'Setup'],
] as const;
const THEMES: [Theme, string][] = [
  ['light', 'Light'],
  ['dark', 'Dark'],
  ['system', 'As the system'],
];
const ITEM = 'cursor-pointer rounded-lg px-3 py-1.5 data-highlighted:bg-future data-[state=checked]:font-semibold';

export function TopBar() {
  return (
    <header className="sticky top-0 z-20 border-b border-line bg-sheet">
      <div className="mx-auto flex h-12 max-w-[1600px] items-center gap-6 px-5 max-sm:gap-3 max-sm:px-3">
        <Link to="/" className="flex items-center gap-2 font-semibold" aria-label="Olivine, to Watch">
          <img src={mark} alt="" width={22} height={22} />
          <span className="text-[16px] max-sm:sr-only">Olivine</span>
        </Link>
        <nav aria-label="Main" className="flex h-full gap-5 overflow-x-auto max-sm:gap-4">
          {PAGES.map(([to, name]) => (
            <Link
              key={to}
              to={to}
              activeOptions={{ exact: to === '/', includeSearch: false }}
              className={clsx(
                'flex items-center border-b-2 border-transparent pt-0.5 text-muted hover:text-ink',
                'data-[status=active]:border-accent data-[status=active]:font-semibold data-[status=active]:text-ink',
              )}
            >
              {name}
            </Link>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-3">
          <FindButton />
          <OnCall />
          <OwnMenu />
        </div>
      </div>
    </header>
  );
}

/** Who is on call by now: told by the clock, also on a page that has been open since yesterday. */
function OnCall() {
  const zone = useZone();
  const now = useNow();
  const watch = useQuery({ ...asked.over(6), refetchInterval: 60_000 });
  const shift = watch.data?.shifts.find((one) => one.from <= now && one.to > now);
  const isOver = watch.data !== undefined && watch.data.shifts.length > 0 && shift === undefined;
  const refetch = watch.refetch;
  useEffect(() => {
    if (isOver) void refetch();
  }, [isOver, refetch]);
  return shift ? (
    <span className="rounded-full border border-line px-3 py-1 whitespace-nowrap max-md:hidden">
      <span className="mr-1.5 inline-block size-1.5 rounded-full bg-accent align-middle" />
      {shift.person} on call{' '}
      <span className="text-muted">
        until {clock(shift.to, zone)}
        {shift.next && shift.next !== shift.person && <span className="max-xl:hidden">, then {shift.next}</span>}
      </span>
    </span>
  ) : null;
}

function OwnMenu() {
  const { person, zone, siteZone, chooseZone } = useSession();
  const queries = useQueryClient();
  const [theme, setTheme] = useState(chosenTheme);
  const [changesPassword, setChangesPassword] = useState(false);
  const [saysHow, setSaysHow] = useState(false);
  const [hears, setHears] = useState(false);
  const signOut = async () => {
    await send('post', '/api/session/end').catch(() => undefined);
    queries.clear();
    location.assign('/');
  };
  const initials = person.name
    .split(' ')
    .map((word) => word[0])
    .join('')
    .slice(0, 2);
  return (
    <>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger
          aria-label={`${initials}: ${person.name}, ${person.role}, your menu`}
          className="grid size-8 place-items-center rounded-full bg-accent-soft font-semibold"
        >
          {initials}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={6}
            className="z-30 min-w-52 rounded-xl border border-line bg-sheet p-1.5 shadow-lg"
          >
            <DropdownMenu.Label className="px-3 py-1.5">
              {person.name}
              <span className="block text-muted">{person.role}</span>
            </DropdownMenu.Label>
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            <DropdownMenu.RadioGroup
              value={theme}
              onValueChange={(name) => {
                setTheme(name as Theme);
                chooseTheme(name as Theme);
              }}
            >
              {THEMES.map(([name, words]) => (
                <DropdownMenu.RadioItem key={name} value={name} className={ITEM}>
                  {words}
                </DropdownMenu.RadioItem>
              ))}
            </DropdownMenu.RadioGroup>
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            <DropdownMenu.RadioGroup value={zone} onValueChange={chooseZone}>
              <DropdownMenu.Label className="px-3 pt-1.5 text-muted">Times in</DropdownMenu.Label>
              {nearZones(siteZone, zone).map((one) => (
                <DropdownMenu.RadioItem key={one} value={one} className={`flex justify-between gap-4 ${ITEM}`}>
                  {one}
                  <span className="font-normal text-muted">{zoneNote(one, siteZone)}</span>
                </DropdownMenu.RadioItem>
              ))}
            </DropdownMenu.RadioGroup>
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            <DropdownMenu.Item asChild className={`block ${ITEM}`}>
              <Link to="/wall">Watch on a wall</Link>
            </DropdownMenu.Item>
            <DropdownMenu.Item onSelect={() => setSaysHow(true)} className={ITEM}>
              How you are told
            </DropdownMenu.Item>
            <DropdownMenu.Item onSelect={() => setHears(true)} className={ITEM}>
              Sound and notices
            </DropdownMenu.Item>
            <DropdownMenu.Item asChild className={`block ${ITEM}`}>
              <Link to="/delivery/messages" search={{ person: person.id }}>
                What you were told
              </Link>
            </DropdownMenu.Item>
            <DropdownMenu.Item onSelect={() => setChangesPassword(true)} className={ITEM}>
              Change your password
            </DropdownMenu.Item>
            <DropdownMenu.Item onSelect={() => void signOut()} className={ITEM}>
              Sign out
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {saysHow && (
        <Suspense>
          <WishesDialog open onOpenChange={setSaysHow} />
        </Suspense>
      )}
      {hears && (
        <Suspense>
          <AlarmsDialog open onOpenChange={setHears} />
        </Suspense>
      )}
      {changesPassword && (
        <Suspense>
          <PasswordDialog open onOpenChange={setChangesPassword} />
        </Suspense>
      )}
    </>
  );
}
