<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Lease;
use Olivine\App\Platform\Part;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Console\Output\NullOutput;

/** Two copies of one part: who stands by neither works nor speaks for the part, and both come with the lease. */
final class StandByTest extends TestCase
{
    protected function tearDown(): void
    {
        pcntl_signal(SIGTERM, SIG_DFL);
        pcntl_signal(SIGINT, SIG_DFL);
    }

    public function testOnlyWhoIsAtWorkReportsFigures(): void
    {
        $database = Instance::emptyDatabase('standby');
        $other = new Database(Instance::connect());
        $other->connection->executeStatement('USE olivine_standby');
        $first = new Lease($other, 'keeper');
        self::assertTrue($first->held());
        $other->upsert('part_status', ['name', 'pid', 'at', 'figures'], [['keeper', 1, 1_000, '{"olivine_blocks_sealed_total":812}']]);
        $reports = static fn(): array => $other->connection->fetchAllAssociative('SELECT pid, figures FROM part_status');
        $whileStandingBy = $reports();

        $rounds = 0;
        $stoodBy = 0;
        $work = static function () use (&$rounds): int {
            ++$rounds;
            posix_kill((int) getmypid(), SIGTERM);

            return 0;
        };
        $standBy = static function () use (&$stoodBy, &$rounds, $reports, $whileStandingBy, $first): void {
            self::assertSame(0, $rounds, 'it worked without the lease');
            self::assertSame($whileStandingBy, $reports(), 'the counter of the one at work alternates with 0');
            ++$stoodBy === 3 && $first->release();
        };
        (new Part($database, 'keeper', new NullOutput()))->run($work, static fn(): array => ['olivine_blocks_sealed_total' => 0.0], $standBy);

        self::assertGreaterThanOrEqual(3, $stoodBy);
        self::assertSame(1, $rounds);
        $report = $reports()[0];
        self::assertSame((string) getmypid(), (string) $report['pid'], 'who took over speaks for the part at once');
        self::assertStringContainsString('"olivine_blocks_sealed_total":0', (string) $report['figures']);
    }
}
