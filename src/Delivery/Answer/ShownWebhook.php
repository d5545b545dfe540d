<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** A webhook, without its secret; where one was made up it is shown once. */
final readonly class ShownWebhook
{
    public function __construct(
        public int $id,
        public string $name,
        public bool $standsIn,
        public string $url,
        public int $version,
        public ?string $secret = null,
    ) {
    }
}
