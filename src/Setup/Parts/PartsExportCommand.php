<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

use Olivine\App\Files\YamlFile;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Yaml\Yaml;

#[AsCommand('olivine:setup:export', 'Writes channels, templates, mutes and actions as a file says them; nothing secret')]
final class PartsExportCommand extends Command
{
    private const INLINE_FROM = 4;
    private const INDENT = 2;

    public function __construct(private readonly PartFiles $parts)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $held = ['olivine' => YamlFile::VERSION] + $this->parts->now();
        $output->write(Yaml::dump($held, self::INLINE_FROM, self::INDENT, Yaml::DUMP_MULTI_LINE_LITERAL_BLOCK), false, OutputInterface::OUTPUT_RAW);

        return self::SUCCESS;
    }
}
