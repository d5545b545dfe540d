<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

final class DamagedBlock extends \RuntimeException
{
}
