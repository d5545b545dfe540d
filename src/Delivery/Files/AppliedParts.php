<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Platform\Repository\KeptSettingRepository;

/** What parts of the plan come from files, and what these said when they were applied last. */
final readonly class AppliedParts
{
    private const KEPT_AS = 'parts from files';

    public function __construct(private KeptSettingRepository $kept)
    {
    }

    /** @return array<string, array{file: string, said: array<string, mixed>}> `path boarding` → file, and the definition as it was kept */
    public function all(): array
    {
        /** @var array<string, array{file: string, said: array<string, mixed>}> */
        return json_decode($this->kept->value(self::KEPT_AS) ?? '{}', true, 16, JSON_THROW_ON_ERROR);
    }

    /** @param array<string, array{file: string, said: array<string, mixed>}> $parts */
    public function keep(array $parts): void
    {
        $this->kept->keep(self::KEPT_AS, json_encode((object) $parts, JSON_THROW_ON_ERROR));
    }
}
