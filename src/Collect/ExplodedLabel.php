<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\Core\Exposition\Sample;

/** Which label makes so many series, for a refusal that names the remedy. */
final class ExplodedLabel
{
    /** @param list<Sample> $new */
    public static function remedy(array $new): string
    {
        $values = [];
        foreach ($new as $sample) {
            foreach ($sample->labels->labels as $name => $value) {
                $values[$name][$value] = true;
            }
        }
        if ($values === []) {
            return 'drop metrics at the source';
        }
        $counts = array_map(count(...), $values);
        arsort($counts);
        $worst = (string) array_key_first($counts);

        return sprintf(
            'the label %s alone has %s different values: drop it at the source, or give it fewer',
            $worst,
            number_format($counts[$worst]),
        );
    }
}
