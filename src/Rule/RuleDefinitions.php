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
    private const NAMELESS = 'A rule without a name';
    private const NOTHING = 'now()';

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
            $left = $this->left($kept);

            return $left->raising(new UnreadableFields($problem->getMessage(), $left->condition), $left->holdSeconds);
        }
    }

    /**
     * What can still be read of it, field by field.
     *
     * @param array<array-key, mixed> $kept
     */
    private function left(array $kept): RuleDefinition
    {
        $left = new RuleDefinition(self::NAMELESS, self::NOTHING, UnreadableFields::nothing());
        foreach (array_intersect_key($kept, get_object_vars($left)) as $field => $value) {
            try {
                $left = $this->definitions->read(RuleDefinition::class, [$field => $value] + self::kept($left));
            } catch (Problem) {
                // The rule says which field is at fault; the others are kept.
            }
        }

        return $left;
    }

    /** @return array<string, mixed> as it is kept */
    public static function kept(RuleDefinition $definition): array
    {
        /** @var array<string, mixed> */
        return json_decode(json_encode($definition, JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION), true, 16, JSON_THROW_ON_ERROR);
    }
}
