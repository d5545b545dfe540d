<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Secret;
use Olivine\App\Platform\Definition\Field\Whole;

/** Where mail goes out; without a host none does. */
final readonly class MailServerFields
{
    private const LONGEST = 400;

    /** @param string|null $password left out, it stays as it is */
    public function __construct(
        #[Line(253)]
        public string $host = '',
        #[Whole(1, 65_535)]
        public int $port = 25,
        #[Line(self::LONGEST)]
        public string $user = '',
        public MailTls $tls = MailTls::IfOffered,
        #[Secret(self::LONGEST)]
        public ?string $password = null,
    ) {
    }
}
