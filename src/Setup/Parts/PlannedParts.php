<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

/** What files would make of channels, templates, mutes and actions. */
final readonly class PlannedParts
{
    /**
     * @param list<WrittenPart>           $parts   all that stand in the files
     * @param array<string, list<string>> $changes `channel sms` → what is otherwise; of one that is new nothing
     * @param list<string>                $new
     * @param list<string>                $hand    those that were changed by hand since the last apply
     */
    public function __construct(public array $parts, public array $changes, public array $new, public array $hand)
    {
    }

    public function isNothing(): bool
    {
        return $this->changes === [];
    }

    /** As people at a terminal read it; "" where there are none in the files. */
    public function words(): string
    {
        if ($this->parts === []) {
            return '';
        }
        $lines = [];
        foreach ($this->changes as $of => $changes) {
            $hand = in_array($of, $this->hand, true) ? '  changed by hand since the last apply' : '';
            $lines[] = sprintf('%-8s %s', in_array($of, $this->new, true) ? 'added' : 'changed', $of) . $hand;
            foreach ($changes as $change) {
                $lines[] = "           {$change}";
            }
        }
        $count = count($this->changes);
        $lines[] = match ($count) {
            0 => 'Nothing to do: channels, templates, mutes and actions are as the files say.',
            1 => 'One of channels, templates, mutes and actions to change.',
            default => "{$count} of channels, templates, mutes and actions to change.",
        };

        return implode("\n", $lines) . "\n";
    }
}
