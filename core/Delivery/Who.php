<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** Whom a rung tells: who is on call then, the next one, a person, or all of a role. */
final readonly class Who
{
    /** @param string $name of the person or the role; else empty */
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
