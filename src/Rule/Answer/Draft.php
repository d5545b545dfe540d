<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Time\Instant;

/** A rule as somebody left it on the way. */
final readonly class Draft
{
    /**
     * @param object   $definition As it stands in the form; it need not be whole
     * @param int|null $rule       That it would change; null: it would be a new one
     */
    public function __construct(
        public int $id,
        public Instant $at,
        public ?string $author,
        public object $definition,
        public bool $enabled,
        public ?int $rule,
        public int $version,
    ) {
    }
}
