<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Collect\Credentials;
use Olivine\App\Delivery\Channel\Signature;
use Olivine\App\Delivery\Definition\ArrivedAnswer;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;

/** Where the programs that reach people bring what these answered, signed with the secret of the channel. */
final readonly class ArrivalApi
{
    public function __construct(
        private KeptChannelRepository $channels,
        private Credentials $seals,
        private Definitions $definitions,
        private Answers $answers,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem 401 where it is not signed, whatever else is wrong; 422 naming the field */
    #[Route('/in/{name}', methods: ['POST'])]
    #[AsAWhole]
    public function arrive(string $name, Request $request): JsonResponse
    {
        $channel = $this->channels->named($name);
        $body = $request->getContent();
        $holds = $channel !== null && Signature::holds(
            $this->seals->openText($channel->secret),
            (string) $request->headers->get(Signature::TIME),
            (string) $request->headers->get(Signature::SIGNATURE),
            $body,
            $this->clock->now(),
        );
        if (!$holds) {
            throw new Problem(401, 'This is not signed with the secret of a channel, or was signed more than five minutes ago');
        }
        $written = json_decode($body, true, 4);
        $answer = $this->definitions->read(ArrivedAnswer::class, is_array($written) ? $written : throw new Problem(400, 'The body must be JSON'));

        return new JsonResponse(['say' => $this->answers->arrived($channel, $answer)]);
    }
}
