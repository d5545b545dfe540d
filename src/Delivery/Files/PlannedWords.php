<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

/** What is planned, as people at a terminal read it. */
final readonly class PlannedWords
{
    public static function of(PlannedPlan $planned): string
    {
        $lines = [];
        foreach ($planned->changes as $change) {
            $of = "{$change->kind} {$change->name}";
            $file = $planned->fileOf[$of] ?? '';
            $hand = in_array($of, $planned->hand, true) ? '  changed by hand since the last apply' : '';
            $lines[] = rtrim(sprintf('%-8s %-36s %s', $change->what, $of, $file)) . $hand;
            foreach ($change->fields as $field) {
                $was = $field->was === '' ? '(nothing)' : $field->was;
                $now = $field->now === '' ? '(nothing)' : $field->now;
                $lines[] = "           {$field->field}: {$was} → {$now}";
            }
        }
        $count = count($planned->changes);
        $lines[] = match ($count) {
            0 => 'Nothing to do: who hears is as the files say.',
            1 => 'One change to do.',
            default => "{$count} changes to do.",
        };

        return implode("\n", $lines);
    }
}
