<?php

declare(strict_types=1);

namespace Olivine\App\Files;

use Olivine\App\Formula\WrongCall;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;

/** What is said beside the files that are put into service: who answers for it, why, and which is meant where something was changed by hand. */
final readonly class ApplyOptions
{
    private const LONGEST_REASON = 300;

    private function __construct(public ?Keep $keep, public ?Person $author, public string $reason)
    {
    }

    public static function addTo(Command $command): void
    {
        $command
            ->addArgument('dir', InputArgument::IS_ARRAY | InputArgument::REQUIRED, 'Files, or folders with all that is YAML in them')
            ->addOption('keep', null, InputOption::VALUE_REQUIRED, 'Of what was changed by hand: hand or file')
            ->addOption('by', null, InputOption::VALUE_REQUIRED, 'The address of whoever answers for it')
            ->addOption('reason', null, InputOption::VALUE_REQUIRED, 'Why', 'applied from files');
    }

    /** @throws WrongCall where one cannot be */
    public static function of(InputInterface $input, PersonRepository $people): self
    {
        $keep = $input->getOption('keep');
        $by = $input->getOption('by');

        return new self(
            $keep === null ? null : Keep::tryFrom(Scalar::text($keep)) ?? throw new WrongCall('--keep must be hand or file'),
            $by === null ? null : $people->atAddress(Scalar::text($by)) ?? throw new WrongCall('--by must be the address of somebody who is there'),
            mb_substr(Scalar::text($input->getOption('reason')), 0, self::LONGEST_REASON),
        );
    }

    /**
     * @return list<YamlFile>
     *
     * @throws NoSuchFile where one cannot be read
     */
    public static function files(InputInterface $input): array
    {
        return FilesGiven::read(array_map(Scalar::text(...), array_values((array) $input->getArgument('dir'))), Kinds::ALL);
    }
}
