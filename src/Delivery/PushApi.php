<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Answer\PushBrowsers;
use Olivine\App\Delivery\Answer\ShownPushBrowser;
use Olivine\App\Delivery\Answer\TestOfChannel;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Olivine\App\Delivery\Channel\SignedAddresses;
use Olivine\App\Delivery\Definition\PushFields;
use Olivine\App\Delivery\Entity\PushBrowser;
use Olivine\App\Delivery\Push\EcKey;
use Olivine\App\Delivery\Push\PushChannel;
use Olivine\App\Delivery\Push\PushKeys;
use Olivine\App\Delivery\Repository\PushBrowserRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** The browsers that somebody lets be told. */
#[IsGranted('ROLE_VIEWER')]
final readonly class PushApi
{
    private const MOST = 10;
    private const AUTH_BYTES = 16;

    public function __construct(
        private PushBrowserRepository $browsers,
        private PushKeys $keys,
        private PushChannel $channel,
        private SignedAddresses $addresses,
        private EntityManagerInterface $entities,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/session/browsers', methods: ['GET'])]
    public function own(#[CurrentUser] Person $self): JsonResponse
    {
        $shown = static fn(PushBrowser $one): ShownPushBrowser => new ShownPushBrowser($one->id(), $one->label, $one->at, $one->endpointHash);

        return new JsonResponse(new PushBrowsers($this->keys->public(), array_map($shown, $this->browsers->of($self->id()))));
    }

    /** @throws Problem naming the field */
    #[Route('/api/session/browsers', methods: ['POST'])]
    #[AsAWhole]
    public function add(#[Body] PushFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->check($fields);
        $there = $this->browsers->at($fields->endpoint);
        if ($there === null && count($this->browsers->of($self->id())) >= self::MOST) {
            throw new Problem(409, 'You have ' . self::MOST . ' browsers already, as many as may be; let go of one first');
        }
        if ($there !== null) {
            // Whoever signs in there now is told there, and nobody else any more.
            $this->entities->remove($there);
            $this->entities->flush();
        }
        $browser = new PushBrowser($self->id(), $fields->endpoint, $fields->key, $fields->auth, $fields->label, $this->clock->now());
        $this->entities->persist($browser);
        $this->entities->flush();
        $this->audit->record('lets be told', "browser {$fields->label}", null, null, $self);

        return $this->own($self);
    }

    /** @throws Problem 404 */
    #[Route('/api/session/browsers/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    public function remove(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $browser = $this->browsers->findOneBy(['id' => $id, 'personId' => $self->id()]) ?? throw new Problem(404, "You have no browser {$id}");
        $this->entities->remove($browser);
        $this->audit->record('let go of', "browser {$browser->label}", null, null, $self);

        return new JsonResponse(null, 204);
    }

    #[Route('/api/session/browsers/test', methods: ['POST'])]
    public function test(#[CurrentUser] Person $self): JsonResponse
    {
        try {
            $receipt = $this->channel->test(PushChannel::NAME, $self, $this->clock->now());
        } catch (NotHandedOver $error) {
            return new JsonResponse(new TestOfChannel(false, $error->getMessage()));
        }

        return new JsonResponse(new TestOfChannel(true, $receipt->answer));
    }

    /** @throws Problem */
    private function check(PushFields $fields): void
    {
        $this->addresses->checked($fields->endpoint, 'endpoint');
        if (!EcKey::isPublic(PushKeys::bytes($fields->key))) {
            throw Problem::field('key', 'key must be a public key of the curve P-256, uncompressed, base64url, as a browser gives it');
        }
        if (strlen(PushKeys::bytes($fields->auth)) !== self::AUTH_BYTES) {
            throw Problem::field('auth', 'auth must be 16 bytes, base64url, as a browser gives them');
        }
    }
}
