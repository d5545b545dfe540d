<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Roster\Rotation;

/** What people set up of who hears of what. */
final readonly class Configuration
{
    /**
     * @param Rotation|null $rotation  null while nobody takes shifts
     * @param bool          $looksBack whether what is found now lies in the past, so that nobody is told
     */
    public function __construct(public Ladder $ladder, public ?Rotation $rotation, public bool $looksBack = false)
    {
    }
}
