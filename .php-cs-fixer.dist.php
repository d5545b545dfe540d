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
        'single_line_empty_body' => false,
        'phpdoc_align' => ['align' => 'vertical'],
    ])
    ->setFinder(PhpCsFixer\Finder::create()->in([__DIR__ . '/core', __DIR__ . '/src', __DIR__ . '/server', __DIR__ . '/agent', __DIR__ . '/standins', __DIR__ . '/tests', __DIR__ . '/config', __DIR__ . '/migrations']));
