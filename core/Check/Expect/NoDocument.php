<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** The answer, or a place in it, cannot be read as what it was said to be; in words that go on after "it cannot be judged:". */
final class NoDocument extends \RuntimeException
{
}
