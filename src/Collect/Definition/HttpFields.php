<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Definition\Field\ListOf;

/** A page, or a way through several. */
final readonly class HttpFields implements AskFields
{
    public string $kind;

    /** @param list<HttpStepFields> $steps */
    public function __construct(
        #[ListOf(HttpStepFields::class, 1, 20)]
        public array $steps,
    ) {
        $this->kind = SourceKind::Http->value;
    }

    public function kind(): SourceKind
    {
        return SourceKind::Http;
    }

    public function address(): string
    {
        return $this->steps[0]->url ?? '';
    }
}
