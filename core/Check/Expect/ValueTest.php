<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** What stands at a place of the document, or in a header, compared: `json /queue/depth < 100`. Of several, one must be so. */
final readonly class ValueTest implements Expected
{
    private const SHOWN = 120;

    /** @param DocumentPlace|string $where a place, or the name of a header */
    public function __construct(public DocumentPlace|string $where, public Comparison $comparison, public string|float $expected)
    {
    }

    public function look(Answer $answer): Finding
    {
        try {
            $found = $this->found($answer);
        } catch (NoDocument $error) {
            return new Finding(false, $error->getMessage());
        }
        $name = is_string($this->where) ? "the header {$this->where}" : $this->where->words();
        if ($found === []) {
            return new Finding(false, is_string($this->where) ? "there is no header {$this->where}" : "there is nothing at {$name}");
        }
        $holds = array_any($found, fn(string|float|bool|null $one): bool => $this->comparison->holds($one, $this->expected));
        $shown = array_map(self::shown(...), array_slice($found, 0, 3));

        return new Finding($holds, "{$name} is " . implode(', ', $shown) . (count($found) > 3 ? ' …' : ''));
    }

    public function asksForStatus(): bool
    {
        return false;
    }

    /**
     * @return list<string|float|bool|null>
     *
     * @throws NoDocument
     */
    private function found(Answer $answer): array
    {
        if ($this->where instanceof DocumentPlace) {
            return $answer->at($this->where);
        }
        $header = $answer->header($this->where);

        return $header === null ? [] : [$header];
    }

    private static function shown(string|float|bool|null $found): string
    {
        $text = Comparison::text($found);

        return is_string($found) ? '“' . mb_strimwidth($text, 0, self::SHOWN, '…') . '”' : $text;
    }
}
