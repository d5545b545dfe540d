<?php

declare(strict_types=1);

namespace Olivine\App\Setup;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Files\PlanApplier;
use Olivine\App\Delivery\Files\PlannedWords;
use Olivine\App\Files\Applying;
use Olivine\App\Files\ApplyOptions;
use Olivine\App\Files\BadFiles;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Files\YamlFile;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Files\RosterApplier;
use Olivine\App\Rule\Files\PlanWords;
use Olivine\App\Rule\Files\RuleApplier;
use Olivine\App\Rule\Files\RulePlanner;
use Olivine\App\Rule\Files\RulesOfFiles;
use Olivine\App\Setup\Parts\PartFiles;
use Olivine\Core\Formula\FormulaError;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** All that files say, in one transaction or nothing. */
#[AsCommand('olivine:apply', 'Puts all that these files say into service')]
final class ApplyCommand extends Command
{
    public function __construct(
        private readonly RulesOfFiles $rules,
        private readonly RulePlanner $rulePlanner,
        private readonly RuleApplier $ruleApplier,
        private readonly PlannedFiles $planned,
        private readonly PlanApplier $applier,
        private readonly RosterApplier $rosterApplier,
        private readonly PartFiles $parts,
        private readonly Applying $applying,
        private readonly EntityManagerInterface $entities,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        ApplyOptions::addTo($this);
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->applying->by($this->apply(...), $input, $output);
    }

    /**
     * @param list<YamlFile> $files
     *
     * @return string what it did
     *
     * @throws NoSuchFile   where one cannot be read
     * @throws BadFiles     where something is wrong in them
     * @throws Problem      where it cannot be put into service
     * @throws FormulaError where a formula cannot be read or worked out
     */
    private function apply(array $files, ApplyOptions $said): string
    {
        $rules = $this->rulePlanner->plan($this->rules->whole($files), false);
        [$rosters, $hears, $parts] = $this->planned->of($files);
        PartFiles::refuse($parts, $said->keep);
        RosterApplier::refuse($rosters, $said->keep);
        PlanApplier::refuse($hears, $said->keep);
        $this->entities->wrapInTransaction(function () use ($rules, $hears, $rosters, $parts, $said): void {
            $this->parts->apply($parts, $said->keep, $said->author, ['channel', 'action']);
            $this->rosterApplier->apply($rosters, $said->keep, $said->author, $said->reason);
            $this->ruleApplier->apply($rules, $said->keep, $said->author, $said->reason);
            $this->applier->apply($hears, $said->keep, $said->author, $said->reason);
            // Templates name teams; what hushes changes what is open, by all the rest.
            $this->parts->apply($parts, $said->keep, $said->author, ['template', 'mute']);
        });

        return PlanWords::text($rules, []) . rtrim(PlannedWords::of($hears), "\n") . "\n" . $rosters->words() . $parts->words();
    }
}
