<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Time\Instant;

/** One certificate, and where it is shown or lies. */
final readonly class CertificateRow
{
    /**
     * @param int    $target  of what brought it
     * @param string $kind    of that: how it is asked
     * @param string $service that it is of, by its label
     * @param string $file    that it lies in; "" where a server shows it
     * @param string $for     the names it is for, the first of them
     */
    public function __construct(
        public int $target,
        public string $name,
        public string $kind,
        public string $service,
        public string $file,
        public string $subject,
        public string $issuer,
        public string $for,
        public Instant $endsAt,
    ) {
    }
}
