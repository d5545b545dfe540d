<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Check\ReportedRun;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Station\Backlog;
use Olivine\App\Collect\Station\Result;
use Olivine\App\Collect\Station\Segment;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Filesystem\Filesystem;

/** What a station has seen and the centre has not taken: each once, in order, whatever happens to either of them. */
final class BacklogTest extends TestCase
{
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir() . '/backlog-' . bin2hex(random_bytes(4));
    }

    protected function tearDown(): void
    {
        (new Filesystem())->remove($this->folder);
    }

    /** Random puts, takings that are lost on the way, and restarts: the centre has each number once, and the backlog ends empty. */
    public function testEachIsBroughtOnce(): void
    {
        mt_srand(20261129);
        for ($trial = 0; $trial < 20; ++$trial) {
            $this->setUp();
            $backlog = new Backlog($this->folder);
            [$put, $taken, $through] = [[], [], 0];
            for ($i = 0; $i < 60; ++$i) {
                $choice = mt_rand(0, 9);
                if ($choice < 5) {
                    $results = self::results($backlog->nextNumber(), mt_rand(1, 200));
                    $backlog->put($results);
                    $put = [...$put, ...array_column($results, 'number')];
                } elseif ($choice < 9) {
                    foreach ($backlog->next(mt_rand(1, 500)) as $line) {
                        $number = (int) Segment::numberOf($line);
                        if ($number > $through) {
                            $taken[] = $through = $number;
                        }
                    }
                    // Now and then the centre takes it over, and its answer is lost.
                    if (mt_rand(0, 2) > 0) {
                        $backlog->isTakenThrough($through);
                    }
                } else {
                    $backlog = new Backlog($this->folder);
                }
            }
            for ($lines = $backlog->next(500); $lines !== []; $lines = $backlog->next(500)) {
                foreach ($lines as $line) {
                    $number = (int) Segment::numberOf($line);
                    if ($number > $through) {
                        $taken[] = $through = $number;
                    }
                }
                $backlog->isTakenThrough($through);
            }
            self::assertSame($put, $taken, "trial {$trial}");
            self::assertSame([0, 0, []], [$backlog->waiting(), $backlog->lost(), glob("{$this->folder}/*.lines")]);
            self::assertSame($through + 1, (new Backlog($this->folder))->nextNumber(), 'an empty one goes on counting');
            $this->tearDown();
        }
    }

    /** The machine went down in the middle of a line: that one is lost, those before are not, and what comes behind is read. */
    public function testALineThatWasCutOff(): void
    {
        $backlog = new Backlog($this->folder);
        $backlog->put(self::results(1, 3));
        $file = (glob("{$this->folder}/*.lines") ?: [""])[0];
        file_put_contents($file, substr((string) file_get_contents($file), 0, -20));
        $again = new Backlog($this->folder);
        self::assertSame([1, 2], array_map(Segment::numberOf(...), $again->next(10)));
        $again->put(self::results($again->nextNumber(), 1));
        self::assertContains(4, array_map(Segment::numberOf(...), (new Backlog($this->folder))->next(10)));
    }

    /** @return non-empty-list<Result> */
    private static function results(int $from, int $many): array
    {
        $check = new Target('ferry', '', Instant::ofMs(0));
        $check->id = 1;
        $run = new ReportedRun($check, 0, 1, microtime(true), 0.1, new Judgement(Verdict::Runs, '', []), [], '');

        return array_map(static fn(int $number): Result => Result::of($number, $run), range($from, $from + max(1, $many) - 1));
    }
}
