<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** Replays what was read and compares it with what was recorded: 0 where all rules agree, 1 where one does not or cannot be told. */
#[AsCommand('olivine:rules:agree', 'Whether a replay gives what each rule recorded as it looked')]
final class RulesAgreeCommand extends Command
{
    private const MOST_SHOWN = 20;

    public function __construct(private readonly RuleRepository $rules, private readonly Agreement $agreement)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $isWhole = true;
        foreach ($this->rules->byName() as $rule) {
            if (!$rule->enabled) {
                continue;
            }
            $lines = [];
            try {
                $agreement = $this->agreement->of($rule);
                $differences = $agreement?->differences() ?? [];
                $words = match (true) {
                    $agreement === null => 'has not looked yet',
                    $differences === [] => 'agrees on ' . count($agreement->recorded) . ' moves',
                    default => 'differs in ' . count($differences) . ' of ' . count($agreement->recorded) . ' moves',
                };
                $lines = array_map(static fn(string $one): string => "    {$one}", array_slice($differences, 0, self::MOST_SHOWN));
                $isWhole = $isWhole && $differences === [];
            } catch (FormulaError|TooMuchToRead|BadRule|Problem $error) {
                $words = "cannot be told: {$error->getMessage()}";
                $isWhole = false;
            }
            $output->writeln(["{$rule->name}: {$words}", ...$lines], OutputInterface::OUTPUT_RAW);
        }

        return $isWhole ? self::SUCCESS : self::FAILURE;
    }
}
