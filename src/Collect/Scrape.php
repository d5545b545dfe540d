<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Exposition\Form;

/** One request to one target, from its start to its end. */
final class Scrape
{
    public string $body = '';
    public Form $form = Form::Plain004;
    public ?string $fault = null;
    public float $endedAt = 0.0;
    public readonly float $startedAt;

    public function __construct(public readonly Target $target)
    {
        $this->startedAt = microtime(true);
    }

    public function seconds(): float
    {
        return $this->endedAt - $this->startedAt;
    }
}
