<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Delivery\Entity\Webhook;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Secret;
use Olivine\App\Platform\Definition\Field\Whole;

/** Another program that is told of incidents. */
final readonly class WebhookFields
{
    public const SHORTEST_SECRET = 16;

    /**
     * @param string      $name     one word, as the trail will say it
     * @param string|null $secret   what its messages are signed with; null: as it is, or of a new one a made-up one
     * @param bool        $standsIn whether it is told what another way did not take
     * @param int|null    $version  what was read, to change it
     */
    public function __construct(
        #[Line(Webhook::NAME_LENGTH, 1)]
        public string $name,
        #[Line(2_000, 1)]
        public string $url,
        #[Secret(200)]
        public ?string $secret = null,
        public bool $standsIn = true,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}
