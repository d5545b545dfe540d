<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** The browsers of a person that let themselves be told. */
final readonly class PushBrowsers
{
    /**
     * @param string                 $key      with which a browser subscribes
     * @param list<ShownPushBrowser> $browsers
     */
    public function __construct(public string $key, public array $browsers)
    {
    }
}
