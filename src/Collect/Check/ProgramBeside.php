<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\ScrapeRefused;
use React\EventLoop\LoopInterface;
use React\Promise\Deferred;
use React\Promise\PromiseInterface;

/** A program that runs beside the loop until it ends, or is ended: for what has no other way than to wait. What it says is bounded. */
final class ProgramBeside
{
    private const MOST_BYTES = 200_000;
    /** @var resource|null */
    private $process = null;
    /** @var array<int, resource> what it says is listened to there */
    private array $listening = [];

    public function __construct(private readonly LoopInterface $loop)
    {
    }

    /**
     * @param list<string> $command
     * @param string       $input   what it reads at once, 32 kB at most
     *
     * @return PromiseInterface<array{string, string}> what it said, and what it complained of
     */
    public function says(array $command, string $input = ''): PromiseInterface
    {
        /** @var Deferred<array{string, string}> $result */
        $result = new Deferred();
        $pipes = [];
        $process = @proc_open($command, [0 => ['pipe', 'r'], 1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes, '/', ['LC_ALL' => 'C']);
        if ($process === false) {
            $result->reject(new ScrapeRefused('The program that asks could not be started'));

            return $result->promise();
        }
        $this->process = $process;
        // One that ended at once reads nothing; that is told by what it says.
        @fwrite($pipes[0], $input);
        fclose($pipes[0]);
        $said = ['', ''];
        $open = 2;
        foreach ([$pipes[1], $pipes[2]] as $i => $pipe) {
            stream_set_blocking($pipe, false);
            $this->listening[$i] = $pipe;
            $this->loop->addReadStream($pipe, function () use ($pipe, $i, &$said, &$open, $result): void {
                $said[$i] = substr($said[$i] . fread($pipe, 65_536), 0, self::MOST_BYTES);
                if (!feof($pipe)) {
                    return;
                }
                $this->letGo($i);
                if (--$open === 0) {
                    $this->end();
                    $result->resolve([$said[0], $said[1]]);
                }
            });
        }

        return $result->promise();
    }

    public function end(): void
    {
        // First of all: a stream that is gone, and listened to still, would end what the others say as well.
        array_map($this->letGo(...), array_keys($this->listening));
        if ($this->process !== null) {
            proc_terminate($this->process, SIGKILL);
            proc_close($this->process);
            $this->process = null;
        }
    }

    private function letGo(int $i): void
    {
        if (isset($this->listening[$i])) {
            $this->loop->removeReadStream($this->listening[$i]);
            fclose($this->listening[$i]);
            unset($this->listening[$i]);
        }
    }
}
