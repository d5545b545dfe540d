<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\Definition\ContactKind;
use Olivine\Core\Time\Instant;

/** A way to reach one person, and how sure it is. */
final readonly class ShownContact
{
    /**
     * @param int          $id         0: the address that the person signs in with, and nobody tried yet
     * @param string       $way        e-mail, or e-mail/phone
     * @param Instant|null $verifiedAt null: not verified
     * @param bool         $wasJunk    whether the last code lay among junk
     * @param bool         $codeIsOut  whether a code was sent and waits to be told
     * @param Instant|null $failedAt   when something was not taken there last, in the last weeks
     * @param string       $failedWith what was said of it
     */
    public function __construct(
        public int $id,
        public ContactKind $kind,
        public string $way,
        public string $label,
        public string $address,
        public ?Instant $verifiedAt,
        public bool $wasJunk,
        public bool $codeIsOut,
        public ?Instant $failedAt,
        public string $failedWith,
    ) {
    }
}
