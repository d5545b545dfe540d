<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/**
 * What is expected of an answer, as a person writes it:
 *
 *     status in (200, 204) and "Book now" and not ("sold out" or "try later") and json /queue/depth < 100
 *
 * Words in quotes must be in the answer; `json`, `xml` and `html` compare what stands at a place, `header` a header, each by
 * `= != < <= > >= has starts`, or, with nothing behind it, whether it is there at all. Where nothing is said of the status, it
 * must be one of success (200 to 299).
 */
final readonly class Expectation
{
    /** @param list<array{Expected, string}> $parts each with how it was written; all must be so */
    private function __construct(private array $parts)
    {
    }

    /** @throws BadExpectation */
    public static function of(string $text, bool $hasStatus = true): self
    {
        $parts = ExpectationReader::read($text);
        $isSaid = array_any($parts, static fn(array $part): bool => $part[0]->asksForStatus());

        return new self($hasStatus && !$isSaid ? [[StatusIn::success(), 'status in 200..299'], ...$parts] : $parts);
    }

    /** @return list<string> what is not as expected, each with what was expected; none where all is well */
    public function missing(Answer $answer): array
    {
        $missing = [];
        foreach ($this->parts as [$part, $written]) {
            $finding = $part->look($answer);
            if (!$finding->holds) {
                $missing[] = "{$finding->fact} (expected {$written})";
            }
            if (!$finding->holds && $part instanceof StatusIn) {
                // What else a page of another status does not hold is no wonder.
                break;
            }
        }

        return $missing;
    }
}
