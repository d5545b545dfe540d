<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Store\SeriesRegister;
use Olivine\Core\Exposition\Limits;

/** What is remembered of each target's text, as long as the limits of texts stay as they are. */
final class TargetReaders
{
    /** @var array<int, TargetReader> */
    private array $readers = [];
    private Limits $limits;

    public function __construct(private readonly SeriesRegister $register, private readonly TargetLimits $set)
    {
        $this->limits = new Limits();
    }

    public function of(Target $target): TargetReader
    {
        return $this->readers[$target->id()] ??= new TargetReader($target, $this->register, $this->limits);
    }

    /** @return Limits those that hold now */
    public function renew(): Limits
    {
        $limits = $this->set->limits();
        // Equal by what they say: with others each text is read anew.
        if ($limits !== $this->limits) {
            $this->limits = $limits;
            $this->readers = [];
        }

        return $this->limits;
    }

    public function forget(int $targetId): void
    {
        unset($this->readers[$targetId]);
    }

    public function forgetAll(): void
    {
        $this->readers = [];
    }
}
