<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Reach;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Delivery\Answer\ShownWebhook;
use Olivine\App\Delivery\Answer\TestOfChannel;
use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Olivine\App\Delivery\Channel\WebhookChannel;
use Olivine\App\Delivery\Definition\UsedKind;
use Olivine\App\Delivery\Definition\WebhookFields;
use Olivine\App\Delivery\Entity\Webhook;
use Olivine\App\Delivery\Repository\WebhookRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Other programs that are told of incidents. An address may hold a secret, so administrators alone see it whole. */
#[IsGranted('ROLE_ADMINISTRATOR')]
final readonly class WebhookApi
{
    private const MOST = 20;

    public function __construct(
        private EntityManagerInterface $entities,
        private WebhookRepository $webhooks,
        private WebhookChannel $channel,
        private Credentials $seals,
        private Reach $reach,
        private WhereUsed $used,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/webhooks', methods: ['GET'])]
    public function webhooks(): JsonResponse
    {
        return new JsonResponse(array_map(self::shown(...), $this->webhooks->byName()));
    }

    #[Route('/api/webhooks', methods: ['POST'])]
    #[AsAWhole]
    public function add(#[Body] WebhookFields $fields): JsonResponse
    {
        if ($this->webhooks->count() >= self::MOST) {
            throw new Problem(409, 'There are ' . self::MOST . ' webhooks already, as many as may be; remove one first');
        }
        $secret = $fields->secret ?? bin2hex(random_bytes(24));
        $webhook = new Webhook($this->name($fields->name, null), $this->url($fields->url), $this->sealed($secret), $fields->standsIn);
        $this->entities->persist($webhook);
        $this->entities->flush();
        $this->audit->record('added', "webhook {$webhook->name}", null, self::shown($webhook));

        return new JsonResponse(self::shown($webhook, $fields->secret === null ? $secret : null), 201);
    }

    #[Route('/api/webhooks/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    public function change(int $id, #[Body] WebhookFields $fields): JsonResponse
    {
        $webhook = $this->webhooks->there($id);
        $before = self::shown($webhook);
        Versions::hold($fields->version, $webhook->version, $before);
        $name = $this->name($fields->name, $webhook);
        if ($name !== $webhook->name) {
            $this->refuseWhereUsed($webhook->name);
        }
        $webhook->name = $name;
        $webhook->url = $this->url($fields->url);
        $webhook->standsIn = $fields->standsIn;
        if ($fields->secret !== null) {
            $webhook->secret = $this->sealed($fields->secret);
        }
        $this->entities->flush();
        $this->audit->record('changed', "webhook {$webhook->name}", $before, self::shown($webhook));

        return new JsonResponse(self::shown($webhook));
    }

    /** What waits for it goes another way, and the trail of each incident says so. */
    #[Route('/api/webhooks/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    public function remove(int $id): JsonResponse
    {
        $webhook = $this->webhooks->there($id);
        $before = self::shown($webhook);
        $this->entities->remove($webhook);
        $this->entities->flush();
        $this->audit->record('removed', "webhook {$before->name}", $before, null);

        return new JsonResponse(null, 204);
    }

    #[Route('/api/webhooks/{id<\d{1,9}>}/test', methods: ['POST'])]
    public function test(int $id, #[CurrentUser] Person $person): JsonResponse
    {
        $webhook = $this->webhooks->there($id);
        $began = hrtime(true);
        try {
            $receipt = $this->channel->test($webhook->name, $person, $this->clock->now());
        } catch (NotHandedOver $error) {
            return new JsonResponse(new TestOfChannel(false, $error->getMessage()));
        }

        return new JsonResponse(new TestOfChannel(true, sprintf('It was taken in %d ms: %s', (hrtime(true) - $began) / 1e6, $receipt->answer)));
    }

    private static function shown(Webhook $webhook, ?string $secret = null): ShownWebhook
    {
        return new ShownWebhook($webhook->id(), $webhook->name, $webhook->standsIn, $webhook->url, $webhook->version, $secret);
    }

    /** @throws Problem */
    private function name(string $name, ?Webhook $of): string
    {
        if (preg_match('~^[\p{L}\p{N}][\p{L}\p{N}._-]*$~uD', $name) !== 1) {
            throw Problem::field('name', 'name must be one word of letters, digits, dots and dashes, such as pier-hook');
        }
        $other = $this->webhooks->named($name);
        if (mb_strtolower($name) === MailChannel::NAME || ($other !== null && $other !== $of)) {
            throw Problem::field('name', "There is a channel named {$name} already");
        }

        return $name;
    }

    /** @throws Problem 409 where it is named: what names it would tell nobody */
    private function refuseWhereUsed(string $name): void
    {
        $used = $this->used->of(UsedKind::Channel, $name);
        $uses = array_unique([...$used->inService, ...$used->draft, ...$used->beside]);
        if ($uses !== []) {
            $where = implode(', ', $uses);
            throw new Problem(409, "{$name} is used by {$where}; its name stays as long as it is. Add another webhook instead, or take it out there first");
        }
    }

    /** @throws Problem */
    private function url(string $url): string
    {
        try {
            $address = TargetAddress::of($url);
        } catch (BadAddress $error) {
            throw Problem::field('url', "url {$error->getMessage()}");
        }
        $refusal = $this->reach->refuseEarly($address);

        return $refusal === null ? $address->url() : throw Problem::field('url', $refusal);
    }

    /** @throws Problem */
    private function sealed(#[\SensitiveParameter] string $secret): string
    {
        if (strlen($secret) < WebhookFields::SHORTEST_SECRET) {
            $least = WebhookFields::SHORTEST_SECRET;
            throw Problem::field('secret', "secret must have at least {$least} characters, or be left out, and one is made up");
        }

        return $this->seals->sealText($secret);
    }
}
