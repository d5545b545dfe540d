<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Http;

use Olivine\Core\Check\Expect\Answer;
use Olivine\Core\Check\Expect\Comparison;
use Olivine\Core\Check\Expect\DocumentPlace;
use Olivine\Core\Check\Expect\NoDocument;

/** A text that is taken from one answer, to be put into the requests after it under its name: `{token}`. */
final readonly class Taken
{
    public const NAME = '~^[a-z][a-z0-9_]{0,39}$~D';
    private const LONGEST = 4_000;

    /** @param DocumentPlace|string $where a place of the document, or the name of a header */
    public function __construct(public string $name, public DocumentPlace|string $where)
    {
    }

    /** @return string|null null where there is nothing, or nothing that can be carried on */
    public function from(Answer $answer): ?string
    {
        if (is_string($this->where)) {
            return self::fit($answer->header($this->where));
        }
        try {
            $found = $answer->at($this->where);
        } catch (NoDocument) {
            return null;
        }

        return $found === [] ? null : self::fit(Comparison::text($found[0]));
    }

    private static function fit(?string $text): ?string
    {
        return $text === null || $text === '' || strlen($text) > self::LONGEST || preg_match('~[\x00-\x1F\x7F]~', $text) === 1 ? null : $text;
    }
}
