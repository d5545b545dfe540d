import clsx from 'clsx';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { read, send } from '../api/client';
import mark from '../olivine.svg';
import { PasswordDialog } from '../people/password-dialog';
import { Finder } from './finder';
import { clock } from './format';
import { useSession } from './session';
import { nearZones, zoneNote } from './zone';

const PAGES = [
  ['/', 'Watch'],
  ['/fleet', 'Fleet'],
  ['/metrics', 'Metrics'],
  ['/rules', 'Rules'],
  ['/setup', 'Setup'],
] as const;

export function TopBar() {
  const { person, zone, siteZone, chooseZone } = useSession();
  const queries = useQueryClient();
  const watch = useQuery({
    queryKey: ['watch', 6],
    queryFn: () => read('/api/watch', { query: { back: 6 } }),
    staleTime: 30_000,
  });
  const now = watch.data?.now ?? 0;
  const shift = watch.data?.shifts.find((one) => one.from <= now && one.to > now);
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
  const [chosenTheme, setChosenTheme] = useState(() => localStorage.getItem('theme') ?? 'system');
  const [changesPassword, setChangesPassword] = useState(false);
  const theme = (name: string) => {
    setChosenTheme(name);
    localStorage.setItem('theme', name);
    if (name === 'system') delete document.documentElement.dataset['theme'];
    else document.documentElement.dataset['theme'] = name;
  };
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
          <Finder />
          {shift && (
            <span className="rounded-full border border-line px-3 py-1 max-md:hidden">
              <span className="mr-1.5 inline-block size-1.5 rounded-full bg-accent align-middle" />
              {shift.person} on call <span className="text-muted">until {clock(shift.to, zone)}</span>
            </span>
          )}
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
                <DropdownMenu.RadioGroup value={chosenTheme} onValueChange={theme}>
                  {['light', 'dark', 'system'].map((name) => (
                    <DropdownMenu.RadioItem
                      key={name}
                      value={name}
                      className="cursor-pointer rounded-lg px-3 py-1.5 data-highlighted:bg-future data-[state=checked]:font-semibold"
                    >
                      {name === 'system' ? 'As the system' : name === 'dark' ? 'Dark' : 'Light'}
                    </DropdownMenu.RadioItem>
                  ))}
                </DropdownMenu.RadioGroup>
                <DropdownMenu.Separator className="my-1 h-px bg-line" />
                <DropdownMenu.RadioGroup value={zone} onValueChange={chooseZone}>
                  <DropdownMenu.Label className="px-3 pt-1.5 text-muted">Times in</DropdownMenu.Label>
                  {nearZones(siteZone, zone).map((one) => (
                    <DropdownMenu.RadioItem
                      key={one}
                      value={one}
                      className="flex cursor-pointer justify-between gap-4 rounded-lg px-3 py-1.5 data-highlighted:bg-future data-[state=checked]:font-semibold"
                    >
                      {one}
                      <span className="font-normal text-muted">{zoneNote(one, siteZone)}</span>
                    </DropdownMenu.RadioItem>
                  ))}
                </DropdownMenu.RadioGroup>
                <DropdownMenu.Separator className="my-1 h-px bg-line" />
                <DropdownMenu.Item
                  onSelect={() => setChangesPassword(true)}
                  className="cursor-pointer rounded-lg px-3 py-1.5 data-highlighted:bg-future"
                >
                  Change your password
                </DropdownMenu.Item>
                <DropdownMenu.Item
                  onSelect={() => void signOut()}
                  className="cursor-pointer rounded-lg px-3 py-1.5 data-highlighted:bg-future"
                >
                  Sign out
                </DropdownMenu.Item>
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
          <PasswordDialog open={changesPassword} onOpenChange={setChangesPassword} />
        </div>
      </div>
    </header>
  );
}
