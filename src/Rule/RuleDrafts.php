<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\Answer\Draft;
use Olivine\App\Rule\Definition\DraftFields;
use Olivine\App\Rule\Entity\RuleDraft;
use Olivine\App\Rule\Repository\RuleDraftRepository;

/** Drafts of rules: one a rule, which everybody goes on with, and any number of rules that are not there yet. */
final readonly class RuleDrafts
{
    private const OBJECTS = ['labels', 'words'];

    public function __construct(
        private EntityManagerInterface $entities,
        private RuleDraftRepository $drafts,
        private PersonRepository $people,
        private Clock $clock = new Clock(),
    ) {
    }

    public function ofRule(int $ruleId): ?Draft
    {
        $draft = $this->drafts->ofRule($ruleId);

        return $draft === null ? null : $this->shown($draft);
    }

    /** @return list<Draft> of rules that are not there yet, the newest first */
    public function ofNewRules(): array
    {
        return array_map($this->shown(...), $this->drafts->ofNewRules());
    }

    /** @throws Problem 409 with the draft that is there already */
    public function begin(DraftFields $fields, Person $author): Draft
    {
        $there = $fields->rule === null ? null : $this->drafts->ofRule($fields->rule);
        if ($there !== null) {
            throw new Problem(409, 'Somebody began a draft of this rule meanwhile', ['now' => $this->shown($there)]);
        }
        $draft = new RuleDraft($fields->rule, self::kept($fields), $fields->enabled, $author->id, $this->clock->now());
        $this->entities->persist($draft);
        $this->entities->flush();

        return $this->shown($draft);
    }

    /** @throws Problem 409 where somebody changed it since it was read */
    public function change(RuleDraft $draft, DraftFields $fields, Person $author): Draft
    {
        Versions::hold($fields->version, $draft->version, $this->shown($draft));
        $draft->definition = self::kept($fields);
        $draft->enabled = $fields->enabled;
        $draft->authorId = $author->id;
        $draft->at = $this->clock->now();
        $this->entities->flush();

        return $this->shown($draft);
    }

    /** What was the draft is in service, or is not wanted any more. */
    public function drop(?RuleDraft $draft): void
    {
        if ($draft !== null) {
            $this->entities->remove($draft);
            $this->entities->flush();
        }
    }

    public function shown(RuleDraft $draft): Draft
    {
        return new Draft(
            id: $draft->id(),
            at: $draft->at,
            author: $draft->authorId === null ? null : $this->people->names()[$draft->authorId] ?? null,
            definition: self::asWritten($draft->definition),
            enabled: $draft->enabled,
            rule: $draft->ruleId,
            version: $draft->version,
        );
    }

    /**
     * Objects without a field were objects.
     *
     * @param array<string, mixed> $definition
     */
    private static function asWritten(array $definition): object
    {
        foreach (self::OBJECTS as $field) {
            if (($definition[$field] ?? null) === []) {
                $definition[$field] = (object) [];
            }
        }

        return (object) $definition;
    }

    /** @return array<string, mixed> */
    private static function kept(DraftFields $fields): array
    {
        return array_combine(array_map(strval(...), array_keys($fields->definition)), $fields->definition);
    }
}
