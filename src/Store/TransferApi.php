<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\People\Audit;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\DamagedBlock;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Readings out and in, as files. */
#[IsGranted('ROLE_VIEWER')]
final readonly class TransferApi
{
    private const MOST_BYTES = 64_000_000;
    private const MOST_SECONDS = 900;

    public function __construct(
        private ReadingExport $export,
        private ReadingImport $import,
        private Audit $audit,
        private HeavyWork $heavy,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws DamagedBlock  where what is stored is not what was written
     */
    #[Route('/api/export', methods: ['GET'])]
    public function export(Request $request): Response
    {
        $now = $this->clock->now()->ms;
        $from = $request->query->getInt('from', $now - 3_600_000);
        $to = min($request->query->getInt('to', $now), $now);
        if ($to <= $from) {
            throw Problem::field('from', 'from must lie before to, and before now');
        }
        $step = $request->query->has('step') ? $request->query->getInt('step') * 1000 : null;
        if ($step !== null && $step < 1_000) {
            throw Problem::field('step', 'step must be a whole number of seconds');
        }
        $form =
            ExportForm::tryFrom($request->query->getString('as', 'csv')) ??
            throw Problem::field('as', 'as must be one of csv, jsonl, openmetrics');
        $pieces = $this->export->text(Parser::parse($request->query->getString('formula')), $from, $to, $step, $form);

        return self::streamed(
            $this->begun($pieces),
            $form->contentType(),
            sprintf('readings-%s.%s', gmdate('Ymd-His', intdiv($from, 1000)), $form->extension()),
        );
    }

    /**
     * The newest of everything, as one scrape, for other tools.
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    #[Route('/api/newest', methods: ['GET'])]
    public function newest(): Response
    {
        return self::streamed(
            $this->begun($this->export->newest($this->clock->now()->ms)),
            ExportForm::OpenMetrics->contentType(),
            null,
        );
    }

    /** The body is the file. Answers line by line how far it is; the last line is the report. */
    #[Route('/api/import', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function import(Request $request): Response
    {
        $form =
            ImportForm::tryFrom($request->query->getString('as')) ?? throw Problem::field('as', 'as must be openmetrics or csv');
        $size = (int) $request->headers->get('Content-Length', '0');
        if ($size > self::MOST_BYTES) {
            throw new Problem(
                413,
                sprintf(
                    'The file has %d MB; at most %d MB go at once. Split it, or use bin/olivine import',
                    intdiv($size, 1_000_000),
                    intdiv(self::MOST_BYTES, 1_000_000),
                ),
            );
        }
        $target = $this->import->targetNamed($request->query->getString('target'));
        $file = $request->getContent(true);

        return new StreamedResponse(
            function () use ($file, $form, $target): void {
                set_time_limit(self::MOST_SECONDS);
                $say = static function (ImportReport $report, bool $done): void {
                    echo json_encode(
                        [
                            'done' => $done,
                            'readings' => $report->readings,
                            'already' => $report->already,
                            'newSeries' => $report->newSeries,
                            'refused' => $report->refused,
                            'reasons' => $report->reasons,
                        ],
                        JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE,
                    ) . "\n";
                    flush();
                };
                $report = $this->import->take($file, $form, $target, static fn(ImportReport $report) => $say($report, false));
                $this->audit->record('imported', "target {$target->name}", null, [
                    'readings' => $report->readings,
                    'newSeries' => $report->newSeries,
                    'refused' => $report->refused,
                ]);
                $say($report, true);
            },
            200,
            ['Content-Type' => 'application/x-ndjson', 'X-Accel-Buffering' => 'no'],
        );
    }

    /**
     * The first piece is made before the answer begins, so that who finds no place is told so.
     *
     * @param iterable<string> $pieces
     *
     * @return iterable<string>
     */
    private function begun(iterable $pieces): iterable
    {
        $begun = $this->heavy->pieces(self::MOST_SECONDS, $pieces);
        $begun->current();

        return $begun;
    }

    /** @param iterable<string> $pieces */
    private static function streamed(iterable $pieces, string $contentType, ?string $fileName): StreamedResponse
    {
        return new StreamedResponse(
            static function () use ($pieces): void {
                set_time_limit(self::MOST_SECONDS);
                foreach ($pieces as $piece) {
                    echo $piece;
                }
            },
            200,
            ['Content-Type' => $contentType, 'X-Content-Type-Options' => 'nosniff'] +
                ($fileName === null ? [] : ['Content-Disposition' => "attachment; filename=\"{$fileName}\""]),
        );
    }
}
