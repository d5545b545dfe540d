<?php

declare(strict_types=1);

namespace Olivine\App\People\Answer;

/** What became of vCards. */
final readonly class TakenCards
{
    /**
     * @param list<string> $added   names of those who are new: viewers, until somebody says otherwise, who cannot sign in without a password
     * @param list<string> $known   addresses of those who were there already
     * @param list<string> $refused addresses that are none
     */
    public function __construct(public array $added, public array $known, public array $refused)
    {
    }
}
