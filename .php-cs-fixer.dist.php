<?php

declare(strict_types=1);

return (new PhpCsFixer\Config())
    ->setRiskyAllowed(true)
    ->setCacheFile(__DIR__ . '/var/php-cs-fixer.cache')
    ->setRules([
        '@PER-CS' => true,
        'declare_strict_types' => true,
        'no_unused_imports' => true,
        'ordered_imports' => true,
        'strict_comparison' => true,
        'trailing_comma_in_multiline' => ['elements' => ['arrays', 'parameters', 'match']],
        'operator_linebreak' => ['only_booleans' => true, 'position' => 'beginning'],
        'single_line_empty_body' => false,
        'phpdoc_align' => ['align' => 'vertical', 'tags' => ['param', 'throws']],
    ])
    ->setFinder(
        PhpCsFixer\Finder::create()->in(
            array_map(static fn(string $folder): string => __DIR__ . "/{$folder}", [
                'core',
                'src',
                'server',
                'agent',
                'standins',
                'tests',
                'config',
                'migrations',
            ]),
        ),
    );
