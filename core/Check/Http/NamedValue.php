<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Http;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Expect\Answer;
use Olivine\Core\Check\Expect\Comparison;
use Olivine\Core\Check\Expect\DocumentPlace;
use Olivine\Core\Check\Expect\NoDocument;
use Olivine\Core\Exposition\MetricType;

/** A number on a page that becomes a metric of its own. */
final readonly class NamedValue
{
    public const NAME = '~^[a-z][a-z0-9_]{0,99}$~D';

    public function __construct(public string $metric, public DocumentPlace $place, public MetricType $type, public string $unit)
    {
    }

    /**
     * @param array<string, string> $labels
     *
     * @return CheckReading|null null where no number stands there
     */
    public function from(Answer $answer, array $labels): ?CheckReading
    {
        try {
            $found = $answer->at($this->place);
        } catch (NoDocument) {
            return null;
        }
        $number = $found === [] ? null : self::number($found[0]);

        return $number === null
            ? null
            : new CheckReading($this->metric, $number, $labels, $this->type, $this->unit, "Read from a page, at {$this->place->words()}");
    }

    /** People write numbers with what they measure: the first one in "2,410 berths free" is 2410, in "−3.5 °C" it is −3.5. */
    public static function number(string|float|bool|null $found): ?float
    {
        $number = Comparison::number($found);
        if ($number !== null || !is_string($found)) {
            return $number;
        }
        $isThere = preg_match('~(?<![\w.,])([-−]?)(\d{1,3}(?:[,  ]\d{3})+|\d+)(\.\d+)?~u', $found, $part) === 1;

        return $isThere
            ? (float) (($part[1] === '' ? '' : '-') . preg_replace('~\D~', '', $part[2]) . ($part[3] ?? ''))
            : null;
    }
}
