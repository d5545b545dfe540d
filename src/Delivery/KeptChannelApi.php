<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Collect\Reach;
use Olivine\App\Delivery\Answer\TestOfChannel;
use Olivine\App\Delivery\Channel\ChannelKeeping;
use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Olivine\App\Delivery\Definition\ChannelFields;
use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Ways to reach people through other programs. An address may hold a secret, so administrators alone see it whole. */
#[IsGranted('ROLE_ADMINISTRATOR')]
final readonly class KeptChannelApi
{
    public function __construct(
        private KeptChannelRepository $channels,
        private ChannelKeeping $keeping,
        private Channels $ways,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/channels/set-up', methods: ['GET'])]
    public function channels(): JsonResponse
    {
        return new JsonResponse(array_map(static fn(KeptChannel $one): object => ChannelKeeping::shown($one), $this->channels->byName()));
    }

    #[Route('/api/channels', methods: ['POST'])]
    #[AsAWhole]
    public function add(#[Body] ChannelFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        [$channel, $secret] = $this->keeping->add($fields, $self);

        return new JsonResponse(ChannelKeeping::shown($channel, $secret), 201);
    }

    #[Route('/api/channels/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    public function change(int $id, #[Body] ChannelFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $channel = $this->channels->there($id);
        $this->keeping->change($channel, $fields, $self);

        return new JsonResponse(ChannelKeeping::shown($channel));
    }

    /** What waits for it goes another way, and the trail of each incident says so. */
    #[Route('/api/channels/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    public function remove(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->keeping->remove($this->channels->there($id), $self);

        return new JsonResponse(null, 204);
    }

    #[Route('/api/channels/{id<\d{1,9}>}/test', methods: ['POST'])]
    public function test(int $id, #[CurrentUser] Person $person): JsonResponse
    {
        $channel = $this->channels->there($id);
        $began = hrtime(true);
        try {
            $way = $this->ways->of($channel->kind->part());
            $receipt = $way->test($channel->name, $person, $this->clock->now());
        } catch (NotHandedOver $error) {
            return new JsonResponse(new TestOfChannel(false, $error->getMessage()));
        }

        return new JsonResponse(new TestOfChannel(true, sprintf('It was taken in %d ms: %s', (hrtime(true) - $began) / 1e6, $receipt->answer)));
    }
}
