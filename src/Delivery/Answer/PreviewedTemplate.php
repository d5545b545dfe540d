<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What a message would say. */
final readonly class PreviewedTemplate
{
    /**
     * @param string      $of     the incident that it tells of
     * @param string|null $fault  why it cannot be filled in; then it says what ships
     * @param int|null    $parts  of an SMS, with what stands at its end
     * @param string|null $length of an SMS, in words
     */
    public function __construct(
        public string $of,
        public string $subject,
        public string $text,
        public ?string $fault,
        public ?int $parts,
        public ?string $length,
    ) {
    }
}
