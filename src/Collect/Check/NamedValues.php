<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Definition\ValueFields;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Expect\DocumentKind;
use Olivine\Core\Check\Expect\DocumentPlace;
use Olivine\Core\Check\Http\NamedValue;
use Olivine\Core\Exposition\MetricType;

/** What people wrote of numbers to keep, and of where they stand, as what the core reads by. */
final class NamedValues
{
    /** @throws Problem */
    public static function value(ValueFields $fields, string $field): NamedValue
    {
        if (preg_match(NamedValue::NAME, $fields->metric) !== 1) {
            throw Problem::field($field, 'A value needs the name of a metric such as tide_height_metres: small letters, digits and _');
        }
        if (str_starts_with($fields->metric, 'check_') || str_starts_with($fields->metric, 'olivine_')) {
            throw Problem::field($field, 'Names that begin with check_ or olivine_ are those of our own metrics');
        }
        $type = $fields->counts ? MetricType::Counter : MetricType::Gauge;

        return new NamedValue($fields->metric, self::place($fields->where, $field), $type, $fields->unit);
    }

    /** @throws Problem */
    public static function place(string $where, string $field): DocumentPlace
    {
        if (preg_match('~^(json|xml|html|text)\s+(.+)$~D', trim($where), $part) !== 1) {
            throw Problem::field($field, 'Where something stands is said as json /queue/depth, xml //fare/@price, html //td[1] or text "used_memory:*"');
        }
        $kind = DocumentKind::from($part[1]);
        $path = trim($part[2], '"');
        if ($kind === DocumentKind::Text) {
            $place = new DocumentPlace($kind, $path);

            return $place->isAroundAValue()
                ? $place
                : throw Problem::field($field, "{$path}: in plain text it is words with one star where the value stands, such as used_memory:*");
        }
        $isPath = $kind === DocumentKind::Json ? preg_match('~^[/$]~', $path) === 1 : @(new \DOMXPath(new \DOMDocument()))->evaluate($path) !== false;

        return $isPath || str_contains($path, '(')
            ? new DocumentPlace($kind, $path)
            : throw Problem::field($field, "The place {$path} cannot be read; in JSON it begins with / or $, in XML and HTML it is an XPath");
    }
}
