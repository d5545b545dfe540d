<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\SourceKind;
use Symfony\Component\Serializer\Attribute\DiscriminatorMap;

/** What a check asks; which fields there are depends on its kind. */
#[DiscriminatorMap('kind', [
    'http' => HttpFields::class,
    'tcp' => TcpFields::class,
    'tls' => TlsFields::class,
    'dns' => DnsFields::class,
    'ping' => PingFields::class,
    'sql' => SqlFields::class,
    'mail' => MailFields::class,
    'replication' => ReplicationFields::class,
])]
interface AskFields
{
    public function kind(): SourceKind;

    /** Where it goes, in a line. */
    public function address(): string;
}
