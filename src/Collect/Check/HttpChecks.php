<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Definition\HttpFields;
use Olivine\App\Collect\Definition\HttpStepFields;
use Olivine\App\Collect\Definition\TakenFields;
use Olivine\App\Collect\Definition\ValueFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Expect\BadExpectation;
use Olivine\Core\Check\Expect\Documents;
use Olivine\Core\Check\Expect\Expectation;
use Olivine\Core\Check\Http\HttpCheck;
use Olivine\Core\Check\Http\HttpStep;
use Olivine\Core\Check\Http\NamedValue;
use Olivine\Core\Check\Http\Taken;

/** What people wrote of HTTP checks, as what the core judges by. */
final readonly class HttpChecks
{
    private const OURS = ['host', 'content-length', 'transfer-encoding', 'connection', 'cookie', 'te', 'upgrade', 'expect'];

    public function __construct(private CheckAsks $asks, private CheckSecrets $secrets, public Documents $documents)
    {
    }

    /** @throws Problem where it cannot be read any more */
    public function run(Target $target, ?int $dueMs, int $place): HttpRun
    {
        $asks = $this->asks->of($target);
        if (!$asks instanceof HttpFields) {
            throw new \LogicException("{$target->name} is no HTTP check");
        }
        $secrets = $this->secrets->open($target);

        return new HttpRun(
            $target,
            $dueMs,
            $place,
            self::check($asks, $target->slowMs),
            $secrets->values,
            $secrets->origins,
            array_keys($secrets->values),
        );
    }

    /** @throws Problem naming the field and what it must be */
    public static function check(HttpFields $fields, ?int $slowMs): HttpCheck
    {
        $steps = [];
        foreach ($fields->steps as $i => $step) {
            $steps[] = self::step($step, $i, count($fields->steps));
        }
        if ($steps === []) {
            throw Problem::field('asks.steps', 'There must be at least one step');
        }
        $names = array_map(static fn(HttpStep $step): string => $step->name, $steps);
        if (count(array_unique($names)) < count($names)) {
            throw Problem::field('asks.steps', 'Two steps have the same name; the readings of each are told by it');
        }

        return new HttpCheck($steps, $slowMs);
    }

    /** @throws Problem */
    private static function step(HttpStepFields $fields, int $i, int $of): HttpStep
    {
        $field = static fn(string $name): string => "asks.steps[{$i}].{$name}";
        $headers = [];
        foreach ($fields->headers as $header) {
            if (preg_match('~^[A-Za-z0-9-]{1,100}$~D', $header->name) !== 1 || in_array(strtolower($header->name), self::OURS, true)) {
                throw Problem::field($field('headers'), "A header cannot be called {$header->name}; Olivine writes Host, Cookie, lengths and the like itself");
            }
            if (preg_match('~^[\x20-\x7E]*$~D', $header->value) !== 1) {
                throw Problem::field($field('headers'), "The header {$header->name} must be one line of plain signs");
            }
            $headers[$header->name] = $header->value;
        }
        try {
            $expects = Expectation::of($fields->expects);
        } catch (BadExpectation $error) {
            throw Problem::field($field('expects'), "{$error->getMessage()} (at sign " . (mb_strlen(substr($fields->expects, 0, $error->at)) + 1) . ')');
        }

        return new HttpStep(
            name: $fields->name === '' ? ($of > 1 ? (string) ($i + 1) : '') : $fields->name,
            method: $fields->method->value,
            url: $fields->url,
            headers: $headers,
            body: $fields->body,
            follows: $fields->follows,
            patienceMs: (int) ($fields->patienceSeconds * 1000),
            expects: $expects,
            takes: array_map(static fn(TakenFields $take): Taken => self::take($take, $field('takes')), $fields->takes),
            values: array_map(static fn(ValueFields $value): NamedValue => NamedValues::value($value, $field('values')), $fields->values),
        );
    }

    /** @throws Problem */
    private static function take(TakenFields $fields, string $field): Taken
    {
        if (preg_match(Taken::NAME, $fields->name) !== 1) {
            throw Problem::field($field, 'What is taken needs a plain name such as token: small letters, digits and _');
        }
        if (preg_match('~^header\s+([A-Za-z0-9-]+)$~D', $fields->where, $part) === 1) {
            return new Taken($fields->name, $part[1]);
        }

        return new Taken($fields->name, NamedValues::place($fields->where, $field));
    }
}
