<?php

declare(strict_types=1);

namespace Olivine\App\Formula;

use Olivine\App\Platform\CalledFrom;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Limits;
use Olivine\Core\Exposition\TextReader;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** Reads exposition text and prints as JSON what it holds, or its first fault. */
#[AsCommand('olivine:read', 'Reads exposition text and says what it holds')]
final class ReadCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED, 'Exposition text in either form; - is standard input')->addOption(
            'form',
            null,
            InputOption::VALUE_REQUIRED,
            'openmetrics or plain; else told by its # EOF',
        );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $file = Scalar::text($input->getArgument('file'));
        $form = $input->getOption('form');
        $text = @file_get_contents(CalledFrom::path($file));
        if ($text === false || ($form !== null && !in_array($form, ['openmetrics', 'plain'], true))) {
            return self::say($output, 2, [
                'ok' => false,
                'error' => ['message' => $text === false ? "{$file} cannot be read" : '--form must be openmetrics or plain'],
            ]);
        }
        $form = match ($form) {
            'openmetrics' => Form::OpenMetrics,
            'plain' => Form::Plain004,
            default => Form::ofText($text),
        };
        try {
            $read = TextReader::read($text, $form, Limits::forFiles());
        } catch (BadExposition $error) {
            return self::say($output, 1, [
                'ok' => false,
                'form' => $form->value,
                'error' => ['line' => $error->lineNumber, 'column' => $error->column, 'message' => $error->getMessage()],
            ]);
        }
        $series = [];
        $readings = [];
        foreach ($read->samples as $sample) {
            $series[$sample->family->name]["{$sample->name}{{$sample->labels->key()}"] = true;
            $readings[$sample->family->name] = ($readings[$sample->family->name] ?? 0) + 1;
        }
        $families = [];
        foreach ($read->families as $family) {
            $families[] = [
                'name' => $family->name,
                'type' => $family->type->value ?? 'unknown',
                'unit' => $family->unit ?? '',
                'help' => $family->help ?? '',
                'series' => count($series[$family->name] ?? []),
                'readings' => $readings[$family->name] ?? 0,
            ];
        }

        return self::say($output, 0, [
            'ok' => true,
            'form' => $form->value,
            'families' => $families,
            'series' => array_sum(array_map(count(...), $series)),
            'readings' => count($read->samples),
        ]);
    }

    /** @param array<string, mixed> $result */
    private static function say(OutputInterface $output, int $code, array $result): int
    {
        $output->writeln(
            json_encode(
                $result,
                JSON_THROW_ON_ERROR |
                    JSON_PRETTY_PRINT |
                    JSON_UNESCAPED_SLASHES |
                    JSON_UNESCAPED_UNICODE |
                    JSON_INVALID_UTF8_SUBSTITUTE,
            ),
            OutputInterface::OUTPUT_RAW,
        );

        return $code;
    }
}
