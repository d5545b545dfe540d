<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** Whom a rung tells: who is on call then, the next one, a person, all of a team or a role, or whose rule it is. */
final readonly class Who
{
    /** @param string $name of the person, the team or the role; else empty */
    private function __construct(public Listener $listener, public string $name)
    {
    }

    public static function onCall(): self
    {
        return new self(Listener::OnCall, '');
    }

    public static function nextOnRoster(): self
    {
        return new self(Listener::NextOnRoster, '');
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
        return match ($listener) {
            Listener::Person, Listener::Team, Listener::Role => new self($listener, $name),
            Listener::OnCall, Listener::NextOnRoster, Listener::Owner => new self($listener, ''),
        };
    }

    public static function role(string $role): self
    {
        return new self(Listener::Role, $role);
    }

    /** `on call`, `person ines@saltmarsh.example`. */
    public function words(): string
    {
        return trim("{$this->listener->value} {$this->name}");
    }
}
