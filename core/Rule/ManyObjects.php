<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** Work that makes very many small objects, none of which stand in a circle: looking for circles among them would take longer than the work. */
final readonly class ManyObjects
{
    /**
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     */
    public static function within(callable $work): mixed
    {
        $wasOn = gc_enabled();
        gc_disable();
        try {
            return $work();
        } finally {
            if ($wasOn) {
                gc_enable();
            }
        }
    }
}
