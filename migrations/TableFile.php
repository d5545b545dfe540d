<?php

declare(strict_types=1);

namespace Olivine\Migrations;

/** The files of statements beside the migrations, in the order in which they apply. */
enum TableFile: string
{
    case FirstTables = 'first_tables';
    case StoreTiers = 'store_tiers';
    case WorkedOut = 'worked_out';
    case LongRuns = 'long_runs';
    case WhatRaised = 'what_raised';
    case AlertTarget = 'alert_target';
    case FirmGround = 'firm_ground';
    case Slots = 'slots';
    case Revisions = 'revisions';
    case RulesKept = 'rules_kept';
    case Standstills = 'standstills';
    case DeliveriesSent = 'deliveries_sent';
    case Webhooks = 'webhooks';
    case HeldUntil = 'held_until';
    case Paths = 'paths';
    case Plans = 'plans';
    case WhenItHappened = 'when_it_happened';
    case Rosters = 'rosters';
    case RotaPlaces = 'rota_places';
    case Channels = 'channels';
    case Mutes = 'mutes';
    case Prepared = 'prepared';
    case Checks = 'checks';
    case Jobs = 'jobs';
    case Stations = 'stations';
    case Pushed = 'pushed';
    case Recipes = 'recipes';

    /** @return list<string> */
    public function statements(): array
    {
        $text = (string) file_get_contents(__DIR__ . "/{$this->value}.sql");

        return array_values(
            array_filter(array_map(trim(...), explode(";\n", $text)), static fn(string $statement): bool => $statement !== ''),
        );
    }

    /** @return list<string> what makes an empty database one of ours */
    public static function all(): array
    {
        return array_merge(...array_map(static fn(self $file): array => $file->statements(), self::cases()));
    }
}
