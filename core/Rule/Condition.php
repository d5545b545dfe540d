<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * What makes a rule raise: it judges one label set at one instant. Its words and its numbers are its own; how long something
 * must last, and what happens where nothing is seen, is the same for all (Holding, LifeCycle).
 */
interface Condition
{
    /**
     * What it judges by, worked out at each instant for each label set of the watched formula.
     *
     * @return non-empty-list<Node> the watched formula first
     */
    public function inputs(Node $watched): array;

    /**
     * @param Memory                     $memory what it kept of this label set at the instant before
     * @param non-empty-list<float|null> $values of its inputs; null where there is none
     */
    public function judge(Memory $memory, Instant $at, array $values): Verdict;

    /**
     * Most alerts are calm most of the time: from which place on one that is calm, and was seen, has to be judged one by one.
     */
    public function calmUntil(Track $track, int $from): int;

    /** What is raised mostly stays so: from which place on one that is past as gravely as this has to be judged one by one again. */
    public function pastUntil(Track $track, int $from, Severity $severity): int;

    /**
     * The same with the limit from which on it raises elsewhere.
     *
     * @throws BadRule where it has none that could be moved, or it cannot be there
     */
    public function moved(float $limit): self;

    /** How grave it is at least. */
    public function severity(): Severity;

    /** `above 400 messages`, as it follows "Raise major when … stays". */
    public function words(string $unit): string;

    /** `has held above 400 messages for 5 min`, as it follows the name of what it is about in the title of an incident. */
    public function title(string $unit, Duration $hold): string;

    /** `at or below 300 messages`, as it follows "Clear when it stays". */
    public function backWords(string $unit): string;

    /**
     * `limit above 400 messages`: what the value is to be held against.
     *
     * @param array<string, float> $numbers of the verdict
     */
    public function reason(array $numbers, string $unit): string;

    /** @return list<float> the values that are drawn as lines beside what is watched, that at which it raises first; none where they move */
    public function lines(): array;
}
