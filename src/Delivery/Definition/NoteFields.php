<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Text;

final readonly class NoteFields
{
    public function __construct(#[Text(1_000, 1)] public string $note)
    {
    }
}
