<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Olivine\App\Collect\Definition\JobFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\SourceKind;
use Olivine\App\Collect\TargetNames;
use Olivine\App\Platform\Problem;

/** Takes what people wrote of a job over. */
final readonly class JobForm
{
    /** How often it is looked at. */
    private const LOOKED_AT_SECONDS = 15;

    public function __construct(private TargetNames $names, private JobDefinitions $definitions)
    {
    }

    /** @throws Problem naming the field and what it must be */
    public function fill(Target $target, JobFields $fields): void
    {
        $this->definitions->core($fields);
        $this->names->take($target, $fields->name);
        $target->kind = SourceKind::Job;
        $target->name = $fields->name;
        $target->asks = JobDefinitions::kept($fields);
        $target->intervalSeconds = self::LOOKED_AT_SECONDS;
        $target->ownLabels = $fields->labels;
        $target->inherit();
    }
}
