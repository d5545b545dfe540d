<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

/** A rule as it is sent to the API, that tells nobody: what a test is about stands before it, `['limit' => 400] + PlainRule::FIELDS`. */
final class PlainRule
{
    public const FIELDS = [
        'formula' => 'messaging_queue_depth',
        'severity' => 'minor',
        'direction' => 'above',
        'limit' => 99_999,
        'holdSeconds' => 60,
        'clearLimit' => 99_999,
        'clearHoldSeconds' => 60,
        'blindAfterSeconds' => 600,
        'blindSeverity' => null,
        'worseLimit' => null,
        'worseSeverity' => null,
        'service' => 'tickets',
        'runbook' => '',
        'enabled' => false,
    ];
}
