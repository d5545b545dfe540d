<?php

declare(strict_types=1);

namespace Olivine\Agent;

use Olivine\Server\Request;
use Olivine\Server\Response;
use React\EventLoop\Loop;
use React\EventLoop\TimerInterface;
use React\Promise\Deferred;
use React\Promise\PromiseInterface;
use Symfony\Component\Process\Process;
use Symfony\Component\Yaml\Exception\ParseException;
use Symfony\Component\Yaml\Yaml;

/**
 * Runs commands of this machine for whoever knows the secret: those that its owner allowed by name, as they stand in the file, with nothing
 * of the request in them, and none twice for one request.
 */
final class AllowedCommands
{
    private const SHORTEST_SECRET = 16;
    private const OLDEST_SECONDS = 300;
    private const LONGEST_SECONDS = 15.0;
    private const MOST_AT_ONCE = 4;
    private const MOST_BYTES = 16_000;
    private const LOOKED_AT_SECONDS = 0.05;

    /** @var array<string, array{int, PromiseInterface<Response>}> id of a request → when it came, and its answer */
    private array $given = [];
    private int $running = 0;

    /** @param array<string, non-empty-list<string>> $commands name → program and arguments */
    private function __construct(private readonly string $secret, private readonly array $commands)
    {
    }

    /**
     * @param string $file YAML: `secret`, and under `commands` names, each with a program and its arguments as a list
     *
     * @throws \InvalidArgumentException saying what is wrong with it
     */
    public static function of(string $file): self
    {
        try {
            $read = Yaml::parseFile($file);
        } catch (ParseException $error) {
            throw new \InvalidArgumentException("{$file}: {$error->getMessage()}", previous: $error);
        }
        $secret = is_array($read) ? $read['secret'] ?? '' : '';
        if (!is_array($read) || !is_string($secret) || strlen($secret) < self::SHORTEST_SECRET) {
            throw new \InvalidArgumentException("{$file}: secret must have at least " . self::SHORTEST_SECRET . ' characters');
        }
        $commands = [];
        foreach (is_array($read['commands'] ?? null) ? $read['commands'] : [] as $name => $command) {
            if (!is_array($command) || $command === [] || array_filter($command, is_string(...)) !== $command) {
                throw new \InvalidArgumentException("{$file}: commands: {$name} must be a list of texts, such as [systemctl, restart, consumers]");
            }
            $commands[(string) $name] = array_values($command);
        }

        return new self($secret, $commands);
    }

    /** @return PromiseInterface<Response> */
    public function run(Request $request): PromiseInterface
    {
        $refusal = $this->refusal($request);
        if ($refusal !== null) {
            return self::now($refusal, 401);
        }
        $asked = json_decode($request->body, true, 16);
        $id = is_array($asked) ? $asked['id'] ?? '' : '';
        $name = is_array($asked) ? $asked['command'] ?? '' : '';
        if (!is_string($id) || $id === '' || !is_string($name) || !isset($this->commands[$name])) {
            $shown = is_string($name) ? $name : '';

            return self::now("This agent allows no command {$shown}; it allows " . implode(', ', array_keys($this->commands)), 422);
        }
        $this->given = array_filter($this->given, static fn(array $one): bool => $one[0] > time() - self::OLDEST_SECONDS * 2);
        if (!isset($this->given[$id]) && $this->running >= self::MOST_AT_ONCE) {
            return self::now('Too many commands run at once; wait for one of them', 429);
        }

        return ($this->given[$id] ??= [time(), $this->begun($this->commands[$name])])[1];
    }

    /**
     * @param non-empty-list<string> $command
     *
     * @return PromiseInterface<Response>
     */
    private function begun(array $command): PromiseInterface
    {
        $answer = new Deferred();
        $process = new Process($command, '/', null, null, self::LONGEST_SECONDS);
        $output = '';
        try {
            $process->start(static function (string $type, string $text) use (&$output): void {
                $output = substr($output . $text, 0, self::MOST_BYTES);
            });
        } catch (\RuntimeException $error) {
            return self::now("It could not be started: {$error->getMessage()}", 500);
        }
        ++$this->running;
        $ends = microtime(true) + self::LONGEST_SECONDS;
        Loop::addPeriodicTimer(self::LOOKED_AT_SECONDS, function (TimerInterface $timer) use ($process, $answer, $ends, &$output): void {
            $isLate = microtime(true) > $ends;
            if ($process->isRunning() && !$isLate) {
                return;
            }
            Loop::cancelTimer($timer);
            --$this->running;
            if ($isLate && $process->isRunning()) {
                $process->stop(0.5);
                $output .= sprintf("\nended after %d s", self::LONGEST_SECONDS);
            }
            $answer->resolve(Response::json(['exit' => $process->getExitCode() ?? -1, 'output' => mb_scrub($output)]));
        });

        return $answer->promise();
    }

    private function refusal(Request $request): ?string
    {
        $time = $request->headers['olivine-time'] ?? '';
        $signature = 'sha256=' . hash_hmac('sha256', "{$time}.{$request->body}", $this->secret);

        return match (true) {
            $request->method !== 'POST' => 'Only POST',
            !hash_equals($signature, $request->headers['olivine-signature'] ?? '') => 'The signature is not right',
            abs(time() - (int) $time) > self::OLDEST_SECONDS => 'It is old; are both clocks right?',
            default => null,
        };
    }

    /** @return PromiseInterface<Response> */
    private static function now(string $words, int $status): PromiseInterface
    {
        return \React\Promise\resolve(new Response("{$words}\n", 'text/plain', $status));
    }
}
