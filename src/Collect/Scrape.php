<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Exposition\Form;

/** One request to one target, from its start to its end. */
final class Scrape
{
    public const MOST_REDIRECTS = 3;

    public string $body = '';
    public Form $form = Form::Plain004;
    public ?string $fault = null;
    public float $endedAt = 0.0;
    public readonly float $startedAt;
    /** Where it is asked now, and how often it was sent on to there. */
    public ?TargetAddress $address = null;
    public int $redirects = 0;
    /** @var array<string, mixed> what is shown to its server with each request */
    public array $credential = [];

    /** @param int|null $dueMs when it was to begin */
    public function __construct(public readonly Target $target, private readonly ?int $dueMs = null)
    {
        $this->startedAt = microtime(true);
    }

    /** @return int how long after its time it ended, ms: begun late, answered slowly, or both */
    public function afterMs(): int
    {
        return (int) ($this->endedAt * 1000) - ($this->dueMs ?? (int) ($this->startedAt * 1000));
    }

    public function fail(string $reason): void
    {
        $this->fault = $reason;
        $this->body = '';
        $this->endedAt = microtime(true);
    }

    public function seconds(): float
    {
        return $this->endedAt - $this->startedAt;
    }
}
