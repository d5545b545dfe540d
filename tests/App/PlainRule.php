<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

/**
 * A rule as it is sent to the API, that tells nobody. What a test is about stands before it, and of a threshold its limit and its
 * clear limit by themselves: `PlainRule::of(['name' => 'Queue', 'limit' => 400])`.
 */
final class PlainRule
{
    private const DEFINITION = [
        'formula' => 'messaging_queue_depth',
        'holdSeconds' => 60,
        'clearHoldSeconds' => 60,
        'service' => 'tickets',
    ];
    private const BESIDE = ['enabled', 'reason', 'version', 'hours'];

    /**
     * @param array<string, mixed> $what
     *
     * @return array<string, mixed>
     */
    public static function of(array $what): array
    {
        $limit = $what['limit'] ?? 99_999;
        $condition = [
            'kind' => 'threshold',
            'side' => 'above',
            'limits' => [['severity' => $what['severity'] ?? 'minor', 'limit' => $limit]],
            'clear' => $what['clear'] ?? $limit,
        ];
        $beside = array_intersect_key($what, array_fill_keys(self::BESIDE, 0));
        $written = array_diff_key($what, $beside, ['limit' => 0, 'clear' => 0, 'severity' => 0]);

        return ['definition' => $written + self::DEFINITION + ['condition' => $condition]] + $beside + ['enabled' => false];
    }

    /**
     * The same rule with something changed.
     *
     * @param array<string, mixed> $rule   as it was read
     * @param array<string, mixed> $change
     *
     * @return array<string, mixed>
     */
    public static function changed(array $rule, array $change): array
    {
        $definition = $rule['definition'];
        if (isset($change['limit'])) {
            $definition['condition']['limits'][0]['limit'] = $change['limit'];
        }
        if (isset($change['clear'])) {
            $definition['condition']['clear'] = $change['clear'];
        }
        $definition = array_diff_key($change, ['limit' => 0, 'clear' => 0, 'enabled' => 0]) + $definition;

        return ['definition' => $definition, 'enabled' => $change['enabled'] ?? $rule['enabled'], 'version' => $rule['version']];
    }

    /** @param array<string, mixed> $rule as it was read */
    public static function limitOf(array $rule): mixed
    {
        return $rule['definition']['condition']['limits'][0]['limit'] ?? null;
    }
}
