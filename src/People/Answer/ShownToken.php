<?php

declare(strict_types=1);

namespace Olivine\App\People\Answer;

use Olivine\Core\Time\Instant;

/** A token, without what is shown of it once. */
final readonly class ShownToken
{
    /**
     * @param string       $person that it acts as
     * @param list<string> $scopes
     * @param string|null  $token  itself, told this once
     */
    public function __construct(
        public int $id,
        public string $name,
        public string $person,
        public array $scopes,
        public Instant $madeAt,
        public Instant $endsAt,
        public ?Instant $usedAt,
        public ?string $token = null,
    ) {
    }
}
