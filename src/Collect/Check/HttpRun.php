<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\CheckStep;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\TargetAddress;
use Olivine\Core\Check\Http\HttpCheck;
use Olivine\Core\Check\Http\HttpExchange;
use Olivine\Core\Check\Http\HttpSent;
use Olivine\Core\Check\Http\HttpStep;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Phases;
use Symfony\Component\BrowserKit\CookieJar;

/** One going through the steps of an HTTP check. */
final class HttpRun extends CheckRun
{
    /** Shorter ones are found by accident, and give nothing away. */
    private const LEAST_MASKED = 4;
    private const KEPT_BYTES = 65_536;
    private const SHOWN_BYTES = 8_000;

    public readonly CookieJar $cookies;
    /** @var list<HttpExchange> */
    public array $exchanges = [];
    public ?HttpStep $step = null;
    public float $stepAt = 0.0;
    /** Where the request on its way goes to, and what it says. */
    public ?TargetAddress $address = null;
    public string $method = 'GET';
    public string $content = '';
    public string $ip = '';
    public float $lookedUp = 0.0;
    public Phases $phases;
    /** @var list<string> where this step was sent on from */
    public array $via = [];
    public string $body = '';
    /** Counts the requests: what comes to a former one is nobody's any more. */
    public int $request = 0;

    /**
     * @param array<string, string> $known   what is filled into its requests
     * @param list<string>          $origins the servers that its secrets were entered for
     * @param list<string>          $secrets which of what is filled in are secrets
     */
    public function __construct(
        Target $target,
        ?int $dueMs,
        int $place,
        public readonly HttpCheck $check,
        public array $known,
        public readonly array $origins = [],
        public readonly array $secrets = [],
    ) {
        parent::__construct($target, $dueMs, $place);
        $this->cookies = new CookieJar();
        $this->phases = new Phases();
    }

    /** What was asked last, as it may be shown. */
    public function sent(): HttpSent
    {
        return new HttpSent(
            $this->method,
            $this->masked($this->address?->url() ?? $this->step->url ?? ''),
            array_map($this->masked(...), $this->step->headers ?? []),
            $this->masked($this->content),
        );
    }

    /** What was filled in may come back in an answer, or be part of an address: its name is shown instead. */
    public function masked(string $text): string
    {
        $names = [];
        foreach ($this->known as $name => $value) {
            if (strlen($value) >= self::LEAST_MASKED) {
                $names[$value] = $names[rawurlencode($value)] = "{{$name}}";
            }
        }

        return $names === [] ? $text : strtr($text, $names);
    }

    public function judged(): Judgement
    {
        return $this->check->judge((int) ($this->endedAt * 1000), ...$this->exchanges);
    }

    public function steps(): array
    {
        return array_map($this->shown(...), $this->exchanges);
    }

    public function lastAnswer(): string
    {
        $answer = ($this->exchanges[count($this->exchanges) - 1] ?? null)?->answer;

        return $answer === null ? '' : $this->masked(mb_scrub(mb_strcut($answer->body, 0, self::KEPT_BYTES)));
    }

    private function shown(HttpExchange $exchange): CheckStep
    {
        $sent = $exchange->sent;
        $lines = $sent === null ? [] : ["{$sent->method} {$sent->url}"];
        foreach ($sent->headers ?? [] as $name => $value) {
            $lines[] = "{$name}: {$value}";
        }
        $answer = $exchange->answer;
        $head = $answer === null ? [] : ["{$answer->protocol} {$answer->status}"];
        foreach ($answer->headers ?? [] as [$name, $value]) {
            $head[] = "{$name}: {$value}";
        }

        return new CheckStep(
            name: $exchange->step->name,
            sent: rtrim(implode("\n", $lines) . "\n\n" . mb_strcut(mb_scrub($sent->body ?? ''), 0, self::SHOWN_BYTES)),
            ip: $exchange->ip,
            via: $exchange->via,
            phases: $exchange->phases,
            status: $answer?->status,
            head: $this->masked(mb_scrub(mb_strcut(implode("\n", $head), 0, self::SHOWN_BYTES))),
            bytes: strlen($answer->body ?? ''),
            fault: (string) $exchange->fault,
        );
    }
}
