<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Series\LabelSet;

final readonly class TargetGroup
{
    public function __construct(
        public int $id,
        public string $name,
        public ?ShownCredential $credential,
        public int $intervalSeconds,
        public LabelSet $labels,
        public int $members,
        public int $timeoutSeconds,
        public int $version,
    ) {
    }
}
