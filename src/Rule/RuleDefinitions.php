<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Definition\UnreadableFields;
use Olivine\App\Rule\Entity\RuleRevision;

/** Definitions of rules as they are kept in their revisions, and read back. */
final class RuleDefinitions
{
    private const MOST_KEPT = 20_000;

    /** @var array<int, RuleDefinition> revision → what it says, which never changes */
    private array $known = [];

    public function __construct(private readonly Definitions $definitions)
    {
    }

    /** What cannot be read any more is a rule that says so where it is to work: one of them stops none of the others. */
    public function of(RuleRevision $revision): RuleDefinition
    {
        $id = $revision->id;
        if ($id === null) {
            return $this->read($revision->definition);
        }
        if (count($this->known) > self::MOST_KEPT) {
            $this->known = [];
        }

        return $this->known[$id] ??= $this->read($revision->definition);
    }

    /** @param array<array-key, mixed> $kept */
    private function read(array $kept): RuleDefinition
    {
        try {
            return $this->definitions->read(RuleDefinition::class, $kept);
        } catch (Problem $problem) {
            $text = static fn(string $field, string $else): string => is_string($kept[$field] ?? null) ? $kept[$field] : $else;

            return new RuleDefinition(
                name: mb_substr($text('name', 'A rule without a name'), 0, RuleDefinition::LONGEST_NAME),
                formula: $text('formula', 'now()'),
                condition: new UnreadableFields($problem->getMessage()),
                service: $text('service', ''),
                owner: $text('owner', ''),
                runbook: $text('runbook', ''),
            );
        }
    }

    /** @return array<string, mixed> as it is kept */
    public static function kept(RuleDefinition $definition): array
    {
        /** @var array<string, mixed> */
        return json_decode(json_encode($definition, JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION), true, 16, JSON_THROW_ON_ERROR);
    }
}
