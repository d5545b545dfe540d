<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Series\LabelSet;

/** A target as it is set, without how its scrapes went. */
readonly class TargetSettings
{
    /**
     * @param list<string> $inherits
     */
    public function __construct(
        public int $id,
        public string $name,
        public string $kind,
        public ?ShownCredential $credential,
        public ?GroupName $group,
        public array $inherits,
        public int $intervalSeconds,
        public LabelSet $labels,
        public LabelSet $ownLabels,
        public bool $paused,
        public int $timeoutSeconds,
        public string $url,
        public int $version,
    ) {
    }
}
