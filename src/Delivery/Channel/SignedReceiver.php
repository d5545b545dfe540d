<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

/** Another program to which words are handed over, signed with what both know. */
interface SignedReceiver
{
    public function address(): string;

    /** What both know, sealed. */
    public function sealedSecret(): string;
}
