<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\UnusualSpan;
use Olivine\Core\Formula\UnusualSpans;
use Olivine\Core\Series\LabelSet;

/**
 * When the alerts of a rule were raised: what was read then is no part of what is usual. An alert of a whole group stands for
 * each of its series.
 */
final readonly class RaisedSpells implements UnusualSpans
{
    private string $key;

    /** @param array<string, non-empty-list<UnusualSpan>> $spans by the key of the alert's labels */
    private function __construct(private array $spans, private ?Together $together)
    {
        $this->key = $spans === [] ? '' : md5(serialize($spans));
    }

    public static function none(): self
    {
        return new self([], null);
    }

    /**
     * A spell begins with its onset, and ends where the alert is calm, over or out of sight.
     *
     * @param list<AlertTransition> $happened to alerts of this rule, those of one label set in the order of time
     */
    public static function in(array $happened, Rule $rule): self
    {
        $spans = [];
        $open = [];
        foreach ($happened as $one) {
            $key = $one->labels->key();
            $move = $one->transition;
            $isOpen = isset($open[$key]);
            if ($move->to->isRaised() && !$move->from->isRaised() && !$isOpen) {
                $open[$key] = new UnusualSpan($move->at->ms, ($move->onset ?? $move->at)->ms);
            } elseif (!$move->to->isRaised() && $isOpen) {
                $spans[$key][] = new UnusualSpan($open[$key]->knownMs, $open[$key]->fromMs, $move->at->ms);
                unset($open[$key]);
            }
        }
        foreach ($open as $key => $span) {
            $spans[$key][] = $span;
        }

        return new self($spans, $rule->together);
    }

    public function of(LabelSet $series): array
    {
        if ($this->spans === []) {
            return [];
        }
        $alert = $this->together === null ? $series : $this->together->group($series);

        return $this->spans[$alert->key()] ?? [];
    }

    public function key(): string
    {
        return $this->key;
    }
}
