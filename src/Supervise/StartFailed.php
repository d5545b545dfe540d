<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

final class StartFailed extends \RuntimeException
{
}
