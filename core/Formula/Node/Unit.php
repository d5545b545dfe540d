<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** What a literal was written in. */
enum Unit: string
{
    case Seconds = 'seconds';
    case Bytes = 'bytes';
    case Ratio = 'ratio';
}
