<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Answer;

use Olivine\App\Setup\Definition\MailTls;

final readonly class MailServer
{
    public function __construct(public string $host, public int $port, public MailTls $tls, public string $user)
    {
    }
}
