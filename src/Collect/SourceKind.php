<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

/** In which way readings of a target come. */
enum SourceKind: string
{
    /** It shows its metrics, and is asked for them. */
    case Scrape = 'scrape';
    case Http = 'http';
    case Tcp = 'tcp';
    case Tls = 'tls';
    case Dns = 'dns';
    case Ping = 'ping';
    case Sql = 'sql';
    case Mail = 'mail';
    case Replication = 'replication';
    /** It says itself when it runs. */
    case Job = 'job';
    /** It hands its readings in, for it is gone before anybody could ask. */
    case Pushed = 'pushed';

    /** What of it cannot be done as with a target, and where it can; null of a target, asked or not. */
    public function elsewhere(): ?string
    {
        return match (true) {
            $this === self::Scrape, $this === self::Pushed => null,
            $this === self::Job => 'is a job; what it reported, and its settings, stand on its own page',
            default => 'is a check; what it was answered, and its settings, stand on its own page',
        };
    }

    public function isCheck(): bool
    {
        return match ($this) {
            self::Http, self::Tcp, self::Tls, self::Dns, self::Ping, self::Sql, self::Mail, self::Replication => true,
            self::Scrape, self::Job, self::Pushed => false,
        };
    }
}
