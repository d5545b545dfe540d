<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

final class EndlessPatience implements Patience
{
    public function goOn(): void
    {
    }
}
