<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** What is known of the metrics a formula may name. */
interface Catalogue
{
    public function has(string $metric): bool;

    /** @return string the metric's unit by its UNIT line or its name's ending; "" where it has none */
    public function unit(string $metric): string;

    /** @return list<string> */
    public function names(): array;

    /** @return list<string> labels that any series of the metric has; none where that is not known */
    public function labels(string $metric): array;
}
