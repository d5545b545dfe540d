<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Sentence;

use Olivine\Core\Formula\Node\Place;

/** Words of a rule that cannot be read: which of them, where in them, and what must stand there. */
final class BadSentence extends \RuntimeException
{
    /** @param string $part `raise.major`, `clear`, `unseen` or `together` */
    public function __construct(public readonly string $part, public readonly Place $place, string $message)
    {
        parent::__construct($message);
    }
}
