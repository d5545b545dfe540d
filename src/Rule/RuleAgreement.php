<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

/** What a rule recorded as it looked, beside what a replay of the same readings gives. */
final readonly class RuleAgreement
{
    /**
     * @param list<string> $recorded each move in words
     * @param list<string> $replayed
     */
    public function __construct(public string $rule, public array $recorded, public array $replayed)
    {
    }

    /** @return list<string> `- …` was recorded and is not replayed, `+ …` the other way round */
    public function differences(): array
    {
        $gone = array_map(static fn(string $move): string => "- {$move}", array_diff($this->recorded, $this->replayed));
        $new = array_map(static fn(string $move): string => "+ {$move}", array_diff($this->replayed, $this->recorded));
        $differences = [...array_values($gone), ...array_values($new)];
        usort($differences, static fn(string $a, string $b): int => substr($a, 2) <=> substr($b, 2));

        return $differences;
    }
}
