<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use React\Dns\Model\Message;

/** The kinds of records that name servers are asked for. */
enum RecordType: string
{
    case A = 'A';
    case Aaaa = 'AAAA';
    case Cname = 'CNAME';
    case Mx = 'MX';
    case Ns = 'NS';
    case Ptr = 'PTR';
    case Soa = 'SOA';
    case Srv = 'SRV';
    case Txt = 'TXT';
    case Caa = 'CAA';

    /** Its number (RFC 1035 and later). */
    public function number(): int
    {
        return match ($this) {
            self::A => Message::TYPE_A,
            self::Aaaa => Message::TYPE_AAAA,
            self::Cname => Message::TYPE_CNAME,
            self::Mx => Message::TYPE_MX,
            self::Ns => Message::TYPE_NS,
            self::Ptr => Message::TYPE_PTR,
            self::Soa => Message::TYPE_SOA,
            self::Srv => Message::TYPE_SRV,
            self::Txt => Message::TYPE_TXT,
            self::Caa => Message::TYPE_CAA,
        };
    }
}
