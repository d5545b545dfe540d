<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Pushed\Pushes;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Problem;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Time\Duration;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Where jobs that are too short to be asked hand their readings in, under a name of their own and with a token. */
#[IsGranted('ROLE_ENGINEER')]
final readonly class PushedApi
{
    private const SHORTEST_S = 30;
    private const LONGEST_S = 31 * 86_400;
    private const USUAL_S = 86_400;

    public function __construct(private Pushes $pushes)
    {
    }

    /** @throws Problem 415, or 422 naming what cannot be so */
    #[Route('/api/pushed/{name<.+>}', methods: ['POST'])]
    #[AsAWhole]
    public function take(string $name, Request $request): JsonResponse
    {
        $text = $request->getContent();
        if ($request->headers->get('Content-Encoding', 'identity') !== 'identity') {
            throw new Problem(415, 'The body must not be packed');
        }
        $type = (string) $request->headers->get('Content-Type');
        // Whoever says nothing of it is believed by what it looks like.
        $isJson = str_contains($type, 'json') || preg_match('~^\s*[{\[]~', $text) === 1;
        $form = $isJson ? null : (str_contains($type, 'openmetrics') ? Form::OpenMetrics : Form::ofText($text));

        return new JsonResponse($this->pushes->take($name, $text, $form, Duration::ofSeconds(self::seconds($request))));
    }

    /** @throws Problem 404 */
    #[Route('/api/pushed/{name<.+>}', methods: ['DELETE'])]
    #[AsAWhole]
    public function end(string $name): JsonResponse
    {
        $this->pushes->end($name);

        return new JsonResponse(null, 204);
    }

    /** @throws Problem */
    private static function seconds(Request $request): int
    {
        $written = $request->query->all()['seconds'] ?? (string) self::USUAL_S;
        $seconds = is_string($written) && preg_match('~^\d{1,9}$~D', $written) === 1 ? (int) $written : 0;
        if ($seconds < self::SHORTEST_S || $seconds > self::LONGEST_S) {
            throw Problem::field('seconds', 'seconds must be how long the readings hold: a whole number from ' . self::SHORTEST_S . ' to ' . self::LONGEST_S);
        }

        return $seconds;
    }
}
