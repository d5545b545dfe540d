<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Delivery\Entity\PushBrowser;
use Olivine\App\Platform\Definition\Field\Line;

/** A browser that lets itself be told, as it says so. */
final readonly class PushFields
{
    /**
     * @param string $endpoint where its push service takes messages for it
     * @param string $key      its public key (P-256), base64url
     * @param string $auth     its secret, base64url
     * @param string $label    as its owner knows it
     */
    public function __construct(
        #[Line(PushBrowser::ENDPOINT_LENGTH, 1)]
        public string $endpoint,
        #[Line(120, 1)]
        public string $key,
        #[Line(40, 1)]
        public string $auth,
        #[Line(PushBrowser::LABEL_LENGTH, 1)]
        public string $label,
    ) {
    }
}
