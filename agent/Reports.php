<?php

declare(strict_types=1);

namespace Olivine\Agent;

/**
 * What a job has to report, told at once or, where that cannot be, later: kept in a folder of the user's, with the time at which it
 * happened, until it is taken. One process at a time tells what is kept, however many jobs there are.
 */
final readonly class Reports
{
    private const PATIENCE_SECONDS = 3.0;
    private const PAUSES_SECONDS = [2, 5, 15, 30, 60];
    private const GIVE_UP_SECONDS = 604_800;
    private const MOST_KEPT = 10_000;

    public function __construct(private string $folder)
    {
        if (!is_dir($folder)) {
            @mkdir($folder, 0o700, true);
        }
    }

    public static function ofUser(): self
    {
        $id = function_exists('posix_geteuid') ? posix_geteuid() : get_current_user();
        $folder = getenv('OLIVINE_REPORTS');

        return new self(is_string($folder) && $folder !== '' ? $folder : "/var/tmp/olivine-reports-{$id}");
    }

    /**
     * @param array<string, int|string> $about run, at and exit
     *
     * @return bool whether it was told; where it was not, it is kept
     */
    public function tell(string $address, string $what, array $about, string $output): bool
    {
        $url = "{$address}/{$what}?" . http_build_query($about);
        if (!$this->isEmpty() || !$this->isTaken($url, $output)) {
            $this->keep($url, $output);

            return false;
        }

        return true;
    }

    public function isEmpty(): bool
    {
        return $this->files() === [];
    }

    /** Tells what is kept, in its order, for as long as there is something; returns at once where another process does. */
    public function tellKept(): void
    {
        $lock = @fopen("{$this->folder}/lock", 'c');
        if ($lock === false || !flock($lock, LOCK_EX | LOCK_NB)) {
            return;
        }
        $until = time() + self::GIVE_UP_SECONDS;
        for ($try = 0; time() < $until; ++$try) {
            foreach ($this->files() as $file) {
                $kept = json_decode((string) @file_get_contents($file), true);
                $url = is_array($kept) && is_string($kept['url'] ?? null) ? $kept['url'] : '';
                $output = is_array($kept) && is_string($kept['output'] ?? null) ? (string) base64_decode($kept['output'], true) : '';
                if ($url === '' || $this->isTaken($url, $output)) {
                    @unlink($file);
                    $try = 0;
                } else {
                    break;
                }
            }
            if ($this->isEmpty()) {
                return;
            }
            sleep(self::PAUSES_SECONDS[min($try, count(self::PAUSES_SECONDS) - 1)]);
        }
    }

    private function keep(string $url, string $output): void
    {
        $files = $this->files();
        if (count($files) >= self::MOST_KEPT) {
            @unlink($files[0]);
        }
        $name = sprintf('%s/%020d-%s.json', $this->folder, (int) (microtime(true) * 1e6), bin2hex(random_bytes(4)));
        $written = file_put_contents("{$name}.part", (string) json_encode(['url' => $url, 'output' => base64_encode($output)]));
        if ($written === false || !rename("{$name}.part", $name)) {
            fwrite(STDERR, "olivine run: what was to be reported could not be kept in {$this->folder}\n");
        }
    }

    /** @return list<string> the oldest first */
    private function files(): array
    {
        $files = glob("{$this->folder}/*.json");
        if ($files === false) {
            return [];
        }
        sort($files);

        return $files;
    }

    /** What is refused for good is not told again: whoever waits for the next would wait for ever. */
    private function isTaken(string $url, string $output): bool
    {
        $http_response_header = [];
        $context = stream_context_create(['http' => [
            'method' => 'POST',
            'header' => ['Content-Type: text/plain'],
            'content' => $output,
            'timeout' => self::PATIENCE_SECONDS,
            'ignore_errors' => true,
            'follow_location' => 0,
        ]]);
        $answer = @file_get_contents($url, false, $context);
        $status = (int) (explode(' ', $http_response_header[0] ?? '')[1] ?? 0);
        if ($status >= 400 && $status < 500 && $status !== 429 && $status !== 408) {
            $why = json_decode((string) $answer, true);
            $title = is_array($why) && is_string($why['title'] ?? null) ? $why['title'] : "HTTP {$status}";
            fwrite(STDERR, "olivine run: the report was refused: {$title}\n");

            return true;
        }

        return $status >= 200 && $status < 300;
    }
}
