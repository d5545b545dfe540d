<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Job\JobKeys;
use Olivine\App\Collect\Job\JobReports;
use Olivine\App\Collect\Job\Report;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;

/**
 * Where jobs report, each at an address of its own: /began, /ended and /failed below it. The body is the end of what was printed.
 *
 * Whoever has nothing but a client that fetches pages may report too, so GET is taken as POST is.
 */
final readonly class JobReportApi
{
    public function __construct(private TargetRepository $targets, private JobKeys $keys, private JobReports $reports)
    {
    }

    /** @throws Problem 404 where the address is nobody's; 422 naming what cannot be so */
    #[Route('/in/job/{key<[\w-]{1,64}>}/{report}', methods: ['GET', 'POST', 'PUT'])]
    #[AsAWhole]
    public function take(string $key, Report $report, Request $request): JsonResponse
    {
        $id = $this->keys->whose($key);
        $job = $id === null ? null : $this->targets->find($id);
        if ($job === null || $job->removedAt !== null) {
            throw new Problem(404, 'This address is no job\'s, or no longer: look at the page of the job');
        }
        $this->reports->take(
            $job,
            $report,
            self::line($request, 'run'),
            self::number($request, 'at'),
            self::number($request, 'exit'),
            $request->getContent(),
        );

        return new JsonResponse(['said' => "{$job->name}: {$report->value} is noted"]);
    }

    private static function line(Request $request, string $name): ?string
    {
        $value = $request->query->all()[$name] ?? null;

        return is_string($value) && $value !== '' ? $value : null;
    }

    /** @throws Problem */
    private static function number(Request $request, string $name): ?int
    {
        $value = self::line($request, $name);

        return match (true) {
            $value === null => null,
            preg_match('~^-?\d{1,15}$~D', $value) === 1 => (int) $value,
            default => throw Problem::field($name, "{$name} must be a whole number"),
        };
    }
}
