<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** Whom a rung tells: who is on call then, the next one, a person, all of a team or a role, or whose rule it is. */
final readonly class Who
{
    /** @param string $name of the person, the team, the role or the roster; of what has none empty */
    private function __construct(public Listener $listener, public string $name)
    {
    }

    /** @param string $roster empty: the first one */
    public static function onCall(string $roster = ''): self
    {
        return new self(Listener::OnCall, $roster);
    }

    /** @param string $roster empty: the first one */
    public static function nextOnRoster(string $roster = ''): self
    {
        return new self(Listener::NextOnRoster, $roster);
    }

    /** @param string $address by which the person is known */
    public static function person(string $address): self
    {
        return new self(Listener::Person, $address);
    }

    public static function team(string $team): self
    {
        return new self(Listener::Team, $team);
    }

    public static function owner(): self
    {
        return new self(Listener::Owner, '');
    }

    /** @param string $name of what has one; else it is not looked at */
    public static function of(Listener $listener, string $name): self
    {
        return new self($listener, $listener === Listener::Owner ? '' : $name);
    }

    public static function role(string $role): self
    {
        return new self(Listener::Role, $role);
    }

    /** `on call`, `roster piers`, `person ines@saltmarsh.example`. */
    public function words(): string
    {
        return match (true) {
            $this->name === '' => $this->listener->value,
            $this->listener === Listener::OnCall => "roster {$this->name}",
            $this->listener === Listener::NextOnRoster => "next on roster {$this->name}",
            default => "{$this->listener->value} {$this->name}",
        };
    }
}
