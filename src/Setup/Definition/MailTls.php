<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Definition;

enum MailTls: string
{
    case Always = 'always';
    case IfOffered = 'if offered';
    case Never = 'never';
}
