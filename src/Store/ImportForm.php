<?php

declare(strict_types=1);

namespace Olivine\App\Store;

enum ImportForm: string
{
    case OpenMetrics = 'openmetrics';
    case Csv = 'csv';
}
