<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\App\Collect\Definition\AskFields;
use Olivine\Core\Series\LabelSet;

/** A check as it is set. */
readonly class CheckSettings
{
    /**
     * @param list<int>    $places
     * @param list<string> $secrets the names of what is filled in and shown to nobody
     */
    public function __construct(
        public int $id,
        public string $name,
        public string $kind,
        public string $url,
        public AskFields $asks,
        public int $intervalSeconds,
        public ?int $slowMs,
        public LabelSet $labels,
        public array $places,
        public bool $isReference,
        public array $secrets,
        public bool $paused,
        public int $version,
    ) {
    }
}
