<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\ReadingPages;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\SeriesRegister;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Tls\Certificate;
use Olivine\Core\Check\Tls\TlsCheck;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Series\ScrapeValues;
use PHPUnit\Framework\TestCase;

/** Where the readings of a check go, of one too whose server shows another certificate each time. */
final class ReadingPagesTest extends TestCase
{
    use OverAStore;

    /** Its verdict and times are kept for ever; of the names that are new each time no more than there is room for. */
    public function testWhatIsNewEachTimeTakesNoOthersPlace(): void
    {
        $database = Instance::emptyDatabase('reading_pages');
        $pages = new ReadingPages($this->target($database, 'gate'), 1, new SeriesRegister($database));
        $common = CheckReading::common(Verdict::Runs, new Phases(connect: 0.01, wait: 0.02), false);
        $given = static fn(string $value): bool => $value !== ScrapeValues::ABSENT;
        $present = static fn(ScrapeRow $row): int => count(array_filter(str_split($row->values, 8), $given));
        $leftOut = 0;
        for ($round = 0; $round < 260; ++$round) {
            $chain = array_map(
                static fn(int $i): Certificate => new Certificate("{$round} {$i}", 'nobody', ['gate'], 0, 86_400_000, 'RSA', 2_048, 'RSA-SHA256'),
                range(1, 4),
            );
            $rows = $pages->rows([...$common, ...TlsCheck::ends($chain)], 60_000 * $round);
            self::assertGreaterThanOrEqual(count($common), array_sum(array_map($present, $rows)), "round {$round}");
            $leftOut += $pages->leftOut;
        }
        self::assertSame(260 * 4 + count($common) - 1_000, $leftOut);
        self::assertSame(1_000, (int) $database->connection->fetchOne('SELECT COUNT(*) FROM series'));
        $pages->rows($common, 60_000 * 260);
        self::assertSame(0, $pages->leftOut, 'it is over when it shows none any more');
        // As another process finds it.
        $again = new ReadingPages($this->target($database, 'another gate'), 1, new SeriesRegister($database));
        self::assertSame(count($common), array_sum(array_map($present, $again->rows($common, 0))));
    }
}
