<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class Certificates
{
    /**
     * @param list<CertificateRow> $certificates the one that ends first before all others
     * @param int                  $more         that are not listed, since they end later than all of these
     * @param list<string>         $unread       files in which no certificate could be read
     */
    public function __construct(public array $certificates, public int $more, public array $unread)
    {
    }
}
