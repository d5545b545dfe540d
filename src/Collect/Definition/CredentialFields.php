<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Platform\Definition\Field\Secret;
use Olivine\App\Platform\Definition\Field\Text;

/** A credential that is not sent stays as it is; one of kind "none" is taken away. */
final readonly class CredentialFields
{
    private const LONGEST = 20_000;

    /** @param string $name the user, the header, or the certificate as PEM text */
    public function __construct(
        public CredentialChoice $kind,
        #[Text(self::LONGEST)]
        public string $name = '',
        #[Secret(self::LONGEST)]
        public string $secret = '',
    ) {
    }
}
