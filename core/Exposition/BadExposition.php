<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/** The text cannot be read: where, what stands there, and what was expected. */
final class BadExposition extends \RuntimeException
{
    public const SHOWN_BYTES = 160;

    public function __construct(
        public readonly int $lineNumber,
        public readonly int $column,
        public readonly string $text,
        public readonly string $expected,
    ) {
        parent::__construct(
            sprintf('Line %d, column %d: expected %s, found: %s', $lineNumber, $column, $expected, self::shown($text)),
        );
    }

    /** The same without what stands there: a text that is no metrics may hold what is not for whoever reads this. */
    public function place(): string
    {
        return sprintf('Line %d, column %d: expected %s', $this->lineNumber, $this->column, $this->expected);
    }

    private static function shown(string $text): string
    {
        $cut = strlen($text) > self::SHOWN_BYTES ? substr($text, 0, self::SHOWN_BYTES) . '…' : $text;

        return $cut === '' ? '(an empty line)' : mb_scrub($cut, 'UTF-8');
    }
}
