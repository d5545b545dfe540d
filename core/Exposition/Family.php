<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/** What the text says of the samples under one name. */
final class Family
{
    public ?MetricType $type = null;
    public ?string $unit = null;
    public ?string $help = null;
    public bool $hasSamples = false;

    public function __construct(public readonly string $name)
    {
    }
}
