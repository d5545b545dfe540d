<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\RaisedBy;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** The alert that decides, for channels that can carry a picture of it. */
final readonly class DrawnAlert
{
    public function __construct(public RaisedBy $by, public LabelSet $labels, public Instant $raisedAt)
    {
    }
}
