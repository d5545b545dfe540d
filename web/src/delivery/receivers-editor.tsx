import type { PlanChoices, WhoDefinition } from '../api/types';
import { Button, smallLook } from '../ui/controls';
import { Checks } from '../ui/form/checks';

type Listener = WhoDefinition['listener'];
const UNNAMED: [Listener, string][] = [
  ['on call', 'who is on call'],
  ['next on the roster', 'the next on the roster'],
  ['owner of the rule', 'who owns the rule'],
];
const keyOf = (who: WhoDefinition) => `${who.listener}|${who.name}`;
const whoOf = (key: string): WhoDefinition => {
  const [listener = 'on call', ...name] = key.split('|');
  return { listener: listener as Listener, name: name.join('|') };
};

type Props = {
  label: string;
  who: WhoDefinition[];
  choices: PlanChoices;
  teams: string[];
  /** How few there may be. */
  least: number;
  onChange: (who: WhoDefinition[]) => void;
};
/** One or several of: who is on call, a person, a team, a role, whose rule it is. */
export function ReceiversEditor({ label, who, choices, teams, least, onChange }: Props) {
  return (
    <div role="group" aria-label={label} className="flex flex-wrap items-center gap-2">
      {who.map((one, place) => (
        <span key={place} className="flex items-center">
          <select
            aria-label={`${label}, ${place + 1}`}
            className={`${smallLook} max-w-52`}
            value={keyOf(one)}
            onChange={(event) => onChange(who.map((other, i) => (i === place ? whoOf(event.target.value) : other)))}
          >
            <Options one={one} choices={choices} teams={teams} />
          </select>
          {who.length > least && (
            <Button
              look="quiet"
              className="px-1"
              aria-label={`Take ${one.name || one.listener} out`}
              onClick={() => onChange(who.filter((_, i) => i !== place))}
            >
              ✕
            </Button>
          )}
        </span>
      ))}
      <Button look="quiet" onClick={() => onChange([...who, { listener: 'next on the roster', name: '' }])}>
        {who.length === 0 ? 'Name somebody' : 'and …'}
      </Button>
    </div>
  );
}

/** What stands there stays to be chosen, also where it is gone by now. */
function Options({ one, choices, teams }: { one: WhoDefinition; choices: PlanChoices; teams: string[] }) {
  const groups: [string, [string, string][]][] = [
    ['', UNNAMED.map(([listener, words]) => [`${listener}|`, words])],
    [
      'Rosters',
      choices.rosters.flatMap((name): [string, string][] => [
        [`on call|${name}`, `on call by ${name}`],
        [`next on the roster|${name}`, `next by ${name}`],
      ]),
    ],
    ['Teams', teams.map((name) => [`team|${name}`, name])],
    ['People', choices.people.map(({ address, name }) => [`person|${address}`, name])],
    ['Everybody who is', choices.roles.map((role) => [`role|${role}`, role])],
  ];
  const known = groups.some(([, options]) => options.some(([key]) => key === keyOf(one)));
  return (
    <>
      {!known && <option value={keyOf(one)}>{one.name} (gone)</option>}
      {groups.map(([name, options]) =>
        name === '' ? (
          options.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))
        ) : (
          <optgroup key={name} label={name}>
            {options.map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </optgroup>
        ),
      )}
    </>
  );
}

const named = (name: string) => [name, name] as const;

/** Through which channels, all at once; none chosen: as each person wishes. */
export function ChannelsEditor({
  by,
  choices,
  none,
  onChange,
}: {
  by: string[];
  choices: PlanChoices;
  none: string;
  onChange: (by: string[]) => void;
}) {
  const gone = by.filter((name) => !choices.channels.includes(name));
  return (
    <div role="group" aria-label="Channels" className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <Checks
        of={[...choices.channels.map(named), ...gone.map((name) => [name, `${name} (gone)`] as const)]}
        chosen={by}
        onChange={onChange}
      />
      {by.length === 0 && <span className="text-muted">{none}</span>}
    </div>
  );
}
