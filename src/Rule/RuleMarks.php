<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Rule\Answer\Mark as ShownMark;
use Olivine\App\Rule\Definition\MarkFields;
use Olivine\App\Rule\Entity\AlertMark;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\AlertMarkRepository;
use Olivine\Core\Rule\Mark;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Spell;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** What people said of alerts: useful or noise. One word an alert; who says otherwise later is right. */
final readonly class RuleMarks
{
    public function __construct(
        private EntityManagerInterface $entities,
        private AlertMarkRepository $marks,
        private PersonRepository $people,
        private Clock $clock = new Clock(),
    ) {
    }

    public function say(Rule $rule, MarkFields $fields, Person $author): void
    {
        $labels = LabelSet::of($fields->labels);
        $raised = Instant::ofMs($fields->raisedAt);
        $mark = $this->marks->one($rule->id(), AlertKey::hash($labels), $raised);
        if ($fields->worth === null) {
            if ($mark !== null) {
                $this->entities->remove($mark);
                $this->entities->flush();
            }

            return;
        }
        $now = $this->clock->now();
        $cleared = $fields->clearedAt === null ? null : Instant::ofMs($fields->clearedAt);
        if ($mark === null) {
            $mark = new AlertMark($rule->id(), AlertKey::hash($labels), $labels->labels, $raised, $cleared, $fields->worth, $author->id, $now);
            $this->entities->persist($mark);
        }
        [$mark->worth, $mark->clearedAt, $mark->authorId, $mark->at] = [$fields->worth, $cleared, $author->id, $now];
        $this->entities->flush();
    }

    /** @return list<ShownMark> the newest alert first */
    public function shown(Rule $rule): array
    {
        $names = $this->people->names();

        return array_map(
            static fn(AlertMark $mark): ShownMark => new ShownMark(
                at: $mark->at,
                author: $names[$mark->authorId] ?? null,
                clearedAt: $mark->clearedAt,
                labels: LabelSet::of($mark->labels),
                raisedAt: $mark->raisedAt,
                worth: $mark->worth,
            ),
            $this->marks->of($rule->id()),
        );
    }

    /** @return list<Mark> of alerts that were raised within the span */
    public function within(int $ruleId, Instant $after, Instant $through): array
    {
        $marks = [];
        foreach ($this->marks->of($ruleId) as $mark) {
            if ($mark->raisedAt->isAfter($after) && !$mark->raisedAt->isAfter($through)) {
                $labels = LabelSet::of($mark->labels);
                $marks[] = new Mark(new Spell($labels, null, $mark->raisedAt, $mark->clearedAt, Severity::Warning), $mark->worth);
            }
        }

        return $marks;
    }
}
