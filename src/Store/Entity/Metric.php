<?php

declare(strict_types=1);

namespace Olivine\App\Store\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What is known of all series of one name. */
#[ORM\Entity]
#[ORM\Table(name: 'metric')]
class Metric
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: 300, unique: true, options: ['collation' => 'utf8mb4_bin'])]
    public string $name;

    #[ORM\Column(length: 20)]
    public string $type;

    #[ORM\Column(length: 60)]
    public string $unit;

    #[ORM\Column(type: 'text')]
    public string $help;

    public function __construct(string $name, string $type, string $unit, string $help)
    {
        $this->name = $name;
        $this->type = $type;
        $this->unit = $unit;
        $this->help = $help;
    }
}
