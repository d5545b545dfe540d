<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Pushed;

use Olivine\App\Collect\Asking;
use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Time\Instant;

/** One look at what a source handed in last. */
final class PushedLook extends Asking
{
    /** @param string|null $text null where nothing of it holds any more */
    public function __construct(
        Target $target,
        int $dueMs,
        public readonly ?string $text = null,
        public readonly Form $form = Form::OpenMetrics,
        public readonly ?Instant $endedOn = null,
    ) {
        parent::__construct($target, $dueMs);
    }
}
