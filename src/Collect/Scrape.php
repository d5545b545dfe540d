<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\Core\Exposition\Form;

/** One request for the metrics of one target, sent on or not. */
final class Scrape extends Asking
{
    public const MOST_REDIRECTS = 3;

    public string $body = '';
    public Form $form = Form::Plain004;
    /** Where it is asked now, and how often it was sent on to there. */
    public ?TargetAddress $address = null;
    public int $redirects = 0;
    /** Where the name of its host led; "" where that is not known. */
    public string $ip = '';
    /** Whether anything came back at all. */
    public bool $wasHeard = false;
    /** Whether its machine answers echoes, where it did not answer itself and that was looked for. */
    public ?bool $machineAnswers = null;
    /** @var array<string, mixed> what is shown to its server with each request */
    public array $credential = [];

    public function fail(string $reason): void
    {
        parent::fail($reason);
        $this->body = '';
    }
}
