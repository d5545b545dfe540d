<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** The HTTP status is one of these, or lies within one of these spans: `status in (200..299, 304)`. */
final readonly class StatusIn implements Expected
{
    /** @param non-empty-list<array{int, int}> $spans */
    public function __construct(public array $spans)
    {
    }

    public static function success(): self
    {
        return new self([[200, 299]]);
    }

    public function look(Answer $answer): Finding
    {
        $status = $answer->status();
        if ($status === null) {
            return new Finding(false, 'the answer has no status');
        }

        return new Finding(
            array_any($this->spans, static fn(array $span): bool => $status >= $span[0] && $status <= $span[1]),
            "it answered with status {$status}",
        );
    }

    public function asksForStatus(): bool
    {
        return true;
    }
}
