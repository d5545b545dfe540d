<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** What an address answered before it is saved; of one that cannot be taken only why. */
final readonly class TargetTest implements \JsonSerializable
{
    /**
     * @param list<FoundFamily> $found What the answer holds, family by family, with a few readings of each.
     * @param list<string>      $hints
     */
    public function __construct(
        public string $message,
        public bool $ok,
        public ?int $bytes = null,
        public ?float $bytesADay = null,
        public ?int $families = null,
        public ?string $form = null,
        public ?array $found = null,
        public ?array $hints = null,
        public ?float $readingsADay = null,
        public ?float $seconds = null,
        public ?int $series = null,
    ) {
    }

    /** @return array<string, mixed> what is known */
    public function jsonSerialize(): array
    {
        /** @var array<string, mixed> $fields */
        $fields = get_object_vars($this);

        return array_filter($fields, static fn(mixed $known): bool => $known !== null);
    }
}
