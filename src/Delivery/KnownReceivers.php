<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\KeptRosters;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Formula\Nearest;

/** Whether those that a plan names are there: people, roles, teams, rosters and channels. */
final readonly class KnownReceivers
{
    public function __construct(private PersonRepository $people, private Channels $channels, private KeptRosters $rosters)
    {
    }

    /**
     * @param list<WhoDefinition> $who
     * @param list<string>        $by
     * @param list<string>        $teams that there are
     *
     * @throws Problem naming the field
     */
    public function check(array $who, array $by, array $teams): void
    {
        foreach ($who as $one) {
            $one->core();
            match ($one->listener) {
                Listener::Person => $this->checkPeople([$one->name], 'who'),
                Listener::Team => self::known('who', 'team', $one->name, $teams),
                Listener::Role => self::known('who', 'role', $one->name, array_column(Role::cases(), 'value')),
                Listener::OnCall, Listener::NextOnRoster => $one->name === '' || self::known('who', 'roster', $one->name, $this->rosters->names()),
                Listener::Owner => true,
            };
        }
        foreach ($by as $way) {
            self::known('by', 'channel', $way, $this->channels->ways());
        }
    }

    /**
     * @param list<string> $addresses
     *
     * @throws Problem naming the field
     */
    public function checkPeople(array $addresses, string $field = 'people'): void
    {
        $known = array_map(static fn(Person $person): string => $person->email, $this->people->byName());
        foreach ($addresses as $address) {
            self::known($field, 'person with the address', $address, $known);
        }
    }

    /**
     * @param list<string> $known
     *
     * @throws Problem
     */
    private static function known(string $field, string $kind, string $name, array $known): bool
    {
        if (!in_array($name, $known, true)) {
            $near = Nearest::to($name, $known);
            throw Problem::field($field, "there is no {$kind} {$name}" . ($near === null ? '' : "; did you mean {$near}?"));
        }

        return true;
    }
}
