<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Repository\PushedRepository;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Platform\Problem;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\TextReader;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** One target's page, and its text as it is. */
#[IsGranted('ROLE_VIEWER')]
final readonly class TargetApi
{
    private const RAW_BYTES = 400_000;

    public function __construct(
        private TargetRepository $targets,
        private TargetPages $pages,
        private Credentials $credentials,
        private TargetLimits $limits,
        private Reach $reach,
        private PushedRepository $pushed,
    ) {
    }

    #[Route('/api/targets/{id<\d{1,9}>}/page', methods: ['GET'])]
    public function page(int $id): JsonResponse
    {
        return new JsonResponse($this->pages->of($this->targets->there($id)));
    }

    /** What it answers right now, as it is, where that are metrics; of what is handed in, what came last. */
    #[Route('/api/targets/{id<\d{1,9}>}/raw', methods: ['GET'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function raw(int $id): Response
    {
        $target = $this->targets->there($id);
        $elsewhere = $target->kind->elsewhere();
        if ($elsewhere !== null) {
            throw new Problem(409, "{$target->name} {$elsewhere}");
        }
        if ($target->kind === SourceKind::Pushed) {
            return self::text($this->pushed->find($id)?->text() ?? '');
        }
        $scrape = (new Scraper($this->credentials, $this->reach, $this->limits->limits()))->once($target);
        if ($scrape->fault !== null) {
            throw new Problem(502, $scrape->fault);
        }
        try {
            // What is no metrics is nobody's business here, whatever answered.
            TextReader::read($scrape->body, $scrape->form, $this->limits->limits());
        } catch (BadExposition $error) {
            throw new Problem(502, "What it answers are no metrics: {$error->place()}");
        }

        return self::text($scrape->body);
    }

    private static function text(string $text): Response
    {
        return new Response(mb_scrub(substr($text, 0, self::RAW_BYTES)), 200, [
            'Content-Type' => 'text/plain; charset=utf-8',
            'X-Content-Type-Options' => 'nosniff',
            'X-Whole-Bytes' => (string) strlen($text),
        ]);
    }
}
