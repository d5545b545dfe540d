<?php

declare(strict_types=1);

namespace Olivine\App\Setup;

use Olivine\App\Collect\Credentials;
use Olivine\App\Platform\Repository\KeptSettingRepository;

/** Secrets that files name and never hold: set at a terminal, kept sealed. */
final readonly class NamedSecrets
{
    private const KEPT_AS = 'named secrets';

    public function __construct(private KeptSettingRepository $kept, private Credentials $seals)
    {
    }

    public function set(string $name, #[\SensitiveParameter] string $secret): void
    {
        $this->kept->keep(self::KEPT_AS, json_encode((object) ([$name => $this->seals->sealText($secret)] + $this->all()), JSON_THROW_ON_ERROR));
    }

    /** @return string|null null where none is set under that name */
    public function open(string $name): ?string
    {
        $sealed = $this->all()[$name] ?? null;

        return $sealed === null ? null : $this->seals->openText($sealed);
    }

    /** @return string the name under which this very secret is set; "" where it is under none */
    public function nameOf(string $sealed): string
    {
        return $this->nameOfText($this->seals->openText($sealed));
    }

    /** @return string as for one that is sealed */
    public function nameOfText(#[\SensitiveParameter] string $secret): string
    {
        foreach ($this->all() as $name => $one) {
            if (hash_equals($secret, $this->seals->openText($one))) {
                return $name;
            }
        }

        return '';
    }

    /** @return list<string> */
    public function names(): array
    {
        return array_keys($this->all());
    }

    /** @return array<string, string> name → sealed */
    private function all(): array
    {
        /** @var array<string, string> */
        return json_decode($this->kept->value(self::KEPT_AS) ?? '{}', true, 4, JSON_THROW_ON_ERROR);
    }
}
