<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\Core\Series\LabelSet;

/** How the label set of an alert is kept: as JSON, and as a short hash by which rows are found. */
final class AlertKey
{
    public static function hash(LabelSet $labels): string
    {
        return substr(hash('sha256', $labels->key()), 0, 32);
    }

    public static function json(LabelSet $labels): string
    {
        return json_encode($labels->labels, JSON_THROW_ON_ERROR | JSON_FORCE_OBJECT);
    }

    public static function labels(string $json): LabelSet
    {
        /** @var array<string, string> $labels */
        $labels = json_decode($json, true, 8, JSON_THROW_ON_ERROR);

        return LabelSet::of($labels);
    }
}
