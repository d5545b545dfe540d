<?php

declare(strict_types=1);

namespace Olivine\App\Files;

/** What may stand in a file of ours: whoever reads one kind passes over the others. */
final class Kinds
{
    public const RULES = 'rules';
    public const RULE_TESTS = 'rule-tests';
    public const PATHS = 'paths';
    public const COPIES = 'copies';
    public const LADDERS = 'ladders';
    public const TEAMS = 'teams';
    public const ROSTERS = 'rosters';
    public const CHANNELS = 'channels';
    public const TEMPLATES = 'templates';
    public const MUTES = 'mutes';
    public const ACTIONS = 'actions';
    /** Of recipes alone, which are no part of what a plan puts into service. */
    public const RECIPES = 'recipes';
    public const ALL = [
        self::RULES, self::RULE_TESTS, self::PATHS, self::COPIES, self::LADDERS, self::TEAMS, self::ROSTERS,
        self::CHANNELS, self::TEMPLATES, self::MUTES, self::ACTIONS,
    ];
}
