<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Series\LabelSet;

/**
 * The labels under which a series is known: those of its text, with its target's laid over them. By example, a text brings
 * `{queue="boarding"}`, its target broker-north has `site="skarn"`: the series is
 * `{queue="boarding", site="skarn", target="broker-north"}`, for as long as the target is called so.
 */
final class Labels
{
    /**
     * @param string $place from which it was asked; "" where that says nothing about it
     *
     * @return array<string, string> what a target lays over the labels of its series
     */
    public static function ofTarget(string $name, string $labelsJson, string $place = ''): array
    {
        return ($place === '' ? [] : ['place' => $place]) + self::read($labelsJson) + ['target' => $name];
    }

    /**
     * @param array<string, string> $ofTarget
     * @param bool                  $brings   whether the series' own go before the target's: it was brought from elsewhere
     */
    public static function laid(string $ownJson, array $ofTarget, bool $brings): LabelSet
    {
        $own = self::read($ownJson);

        return LabelSet::of($brings ? $own + $ofTarget : $ofTarget + $own);
    }

    /** @return array<string, string> */
    public static function read(string $json): array
    {
        /** @var array<string, string> $labels */
        $labels = json_decode($json, true, 8, JSON_THROW_ON_ERROR);

        return $labels;
    }
}
