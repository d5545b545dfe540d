<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

/** When a mail server or a mailbox goes over to TLS. */
enum Encryption: string
{
    case None = 'none';
    /** After the first words, and no further without. */
    case StartTls = 'starttls';
    case Tls = 'tls';
}
