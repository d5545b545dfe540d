<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** How messages are worded. */
final readonly class TemplatesPage
{
    /**
     * @param list<TemplateWay>     $ways
     * @param list<string>          $teams
     * @param list<ShownTemplate>   $templates that count now
     * @param array<string, string> $meaning   what a template may say → what that is
     */
    public function __construct(public string $words, public array $ways, public array $teams, public array $templates, public array $meaning)
    {
    }
}
