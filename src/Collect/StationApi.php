<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Station\Cycles;
use Olivine\App\Collect\Station\Joining;
use Olivine\App\Collect\Station\StationKeys;
use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;

/** What stations ask of the centre: to join, and then again and again one exchange of results and orders. They are never asked. */
final readonly class StationApi
{
    private const MOST_UNPACKED = 64_000_000;
    private const DEPTH = 24;

    public function __construct(
        private StationKeys $keys,
        private Joining $joining,
        private Cycles $cycles,
        private Audit $audit,
    ) {
    }

    #[Route('/in/station/join', methods: ['POST'])]
    #[AsAWhole]
    public function join(Request $request): JsonResponse
    {
        $written = self::body($request);
        $token = is_string($written['token'] ?? null) ? $this->keys->token($written['token']) : throw Problem::field('token', 'token is missing');
        $name = is_string($written['name'] ?? null) ? trim($written['name']) : throw Problem::field('name', 'name is missing');
        $key = $this->joining->join($token, $name);
        $this->audit->record('joined', "station at {$name}", null, ['token' => $token->name]);

        return new JsonResponse(['key' => $key, 'place' => $name], 201);
    }

    #[Route('/in/station/cycle', methods: ['POST'])]
    #[AsAWhole]
    public function cycle(Request $request): JsonResponse
    {
        return new JsonResponse($this->cycles->one($this->keys->place($request), self::body($request)));
    }

    /**
     * @return array<mixed>
     *
     * @throws Problem
     */
    private static function body(Request $request): array
    {
        $text = $request->getContent();
        if ($request->headers->get('Content-Encoding') === 'gzip') {
            $text = @gzdecode($text, self::MOST_UNPACKED);
        }
        $written = is_string($text) ? json_decode($text, true, self::DEPTH) : null;

        return is_array($written) ? $written : throw new Problem(400, 'The body must be JSON, packed by gzip or plain');
    }
}
