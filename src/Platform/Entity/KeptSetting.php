<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Platform\Repository\KeptSettingRepository;

/** What was set under a name, as text. */
#[ORM\Entity(repositoryClass: KeptSettingRepository::class)]
#[ORM\Table(name: 'setting')]
class KeptSetting
{
    public function __construct(
        #[ORM\Id, ORM\Column(length: 60)]
        public string $name,
        #[ORM\Column(type: 'text')]
        public string $value,
    ) {
    }
}
