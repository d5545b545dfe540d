<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

use Olivine\App\Files\FilesCommand;
use Olivine\App\Formula\GivenTime;
use Olivine\App\Formula\WrongCall;
use Olivine\App\Platform\Scalar;
use Olivine\App\Roster\Calendar\ShiftCalendar;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;

/** Who is on call by files alone, without server or database. */
#[AsCommand('olivine:oncall', 'Prints who is on call by files alone: at an instant, or shift by shift')]
final class OnCallCommand extends FilesCommand
{
    private const LONGEST_DAYS = 800;

    public function __construct(private readonly RosterFileReader $reader)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        parent::configure();
        $this->addOption('roster', null, InputOption::VALUE_REQUIRED, 'Only this one')
            ->addOption('at', null, InputOption::VALUE_REQUIRED, 'When: seconds since 1970, or 2026-11-23T03:12:00Z')
            ->addOption('from', null, InputOption::VALUE_REQUIRED, 'Since when, instead of --at')
            ->addOption('to', null, InputOption::VALUE_REQUIRED, 'Until when')
            ->addOption('as', null, InputOption::VALUE_REQUIRED, 'json or ical', 'json');
    }

    protected function told(InputInterface $input, array $files): string
    {
        $read = $this->reader->whole($files);
        $people = $read->people();
        $numbers = array_flip($people);
        $only = $input->getOption('roster');
        $as = Scalar::text($input->getOption('as'));
        $found = [];
        foreach ($read->rosters as $roster) {
            if ($only === null || $only === $roster->name) {
                $history = RosterHistory::always($roster->core(static fn(string $address): int => $numbers[$address]));
                $found[$roster->name] = $this->shifts($input, $history);
            }
        }
        if ($found === []) {
            throw new WrongCall($only === null ? 'There is no roster in these files' : 'There is no such roster in these files: ' . Scalar::text($only));
        }
        $address = static fn(int $person): string => $people[$person];

        return match ($as) {
            'json' => self::lines($found, $address),
            'ical' => ShiftCalendar::of($found, $address),
            default => throw new WrongCall('--as must be json or ical'),
        };
    }

    /**
     * @return list<Shift>
     *
     * @throws WrongCall
     */
    private function shifts(InputInterface $input, RosterHistory $roster): array
    {
        if ($input->getOption('from') === null) {
            $at = GivenTime::instant('at', $input);

            return $roster->touching($at, $at->plus(Duration::ofMs(1)));
        }
        [$from, $to] = [GivenTime::instant('from', $input), GivenTime::instant('to', $input)];
        if (!$from->isBefore($to) || $to->since($from)->isLongerThan(Duration::ofDays(self::LONGEST_DAYS))) {
            throw new WrongCall('--to must be after --from, by at most ' . self::LONGEST_DAYS . ' days');
        }

        return $roster->shifts($from, $to);
    }

    /**
     * @param array<string, list<Shift>> $shifts  by roster
     * @param callable(int): string      $address
     */
    private static function lines(array $shifts, callable $address): string
    {
        $lines = '';
        foreach ($shifts as $roster => $ofRoster) {
            foreach ($ofRoster as $shift) {
                $lines .= json_encode([
                    'roster' => (string) $roster,
                    'person' => $shift->person === null ? null : $address($shift->person),
                    'from' => gmdate('Y-m-d\TH:i:s\Z', intdiv($shift->from->ms, 1000)),
                    'to' => gmdate('Y-m-d\TH:i:s\Z', intdiv($shift->to->ms, 1000)),
                    'because' => $shift->because($address),
                ], self::JSON) . "\n";
            }
        }

        return $lines;
    }
}
