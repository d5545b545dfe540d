<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

/** Another program as it is kept: its address, and the secret that both sides know, sealed. */
trait SpokenToSigned
{
    public function address(): string
    {
        return $this->url;
    }

    public function sealedSecret(): string
    {
        return $this->secret;
    }
}
