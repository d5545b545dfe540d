<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/** One text, read whole. */
final readonly class Exposition
{
    /**
     * @param array<string, Family> $families by name, in the order of the text
     * @param list<Sample>          $samples  in the order of the text
     */
    public function __construct(
        public Form $form,
        public array $families,
        public array $samples,
    ) {
    }
}
