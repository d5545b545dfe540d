<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/** One text, read whole. */
final readonly class Exposition
{
    /**
     * @param array<string, Family> $families by name, in the order of the text
     * @param list<Sample>          $samples  in the order of the text
     * @param list<int>             $states   places of samples whose value must be 0 or 1
     * @param list<int>             $rising   places of buckets that should count no less than the sample before them
     * @param string|null           $fall     where the counts of buckets fall all the same, in words
     */
    public function __construct(
        public Form $form,
        public array $families,
        public array $samples,
        public array $states = [],
        public array $rising = [],
        public ?string $fall = null,
    ) {
    }
}
