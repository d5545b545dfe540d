<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Answer\ShownKeptChannel;
use Olivine\App\Delivery\Definition\ChannelFields;
use Olivine\App\Delivery\Definition\UsedKind;
use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Delivery\Push\PushChannel;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Delivery\Repository\TemplateRepository;
use Olivine\App\Delivery\WhereUsed;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;

/** The channels that people set up: added, changed, removed. */
final readonly class ChannelKeeping
{
    private const MOST = 40;

    public function __construct(
        private EntityManagerInterface $entities,
        private KeptChannelRepository $channels,
        private SignedAddresses $addresses,
        private WhereUsed $used,
        private TemplateRepository $templates,
        private Audit $audit,
    ) {
    }

    /**
     * @return array{KeptChannel, string|null} and its secret, where that was made up
     *
     * @throws Problem naming the field
     */
    public function add(ChannelFields $fields, ?Person $by): array
    {
        if ($this->channels->count() >= self::MOST) {
            throw new Problem(409, 'There are ' . self::MOST . ' channels already, as many as may be; remove one first');
        }
        $secret = $fields->secret ?? bin2hex(random_bytes(24));
        $channel = new KeptChannel(
            $this->name($fields->name, null),
            $fields->kind,
            $this->addresses->checked($fields->url),
            $this->addresses->sealed($secret),
            $fields->standsIn,
            $fields->room,
            $fields->price,
        );
        $this->entities->persist($channel);
        $this->entities->flush();
        $this->audit->record('added', "channel {$channel->name}", null, self::shown($channel), $by);

        return [$channel, $fields->secret === null ? $secret : null];
    }

    /** @throws Problem naming the field; 409 where it was changed meanwhile */
    public function change(KeptChannel $channel, ChannelFields $fields, ?Person $by): void
    {
        $before = self::shown($channel);
        Versions::hold($fields->version, $channel->version, $before);
        if ($fields->kind !== $channel->kind) {
            throw Problem::field('kind', "kind: {$channel->name} is a {$channel->kind->value} channel and stays one; add another channel instead");
        }
        $name = $this->name($fields->name, $channel);
        if ($name !== $channel->name) {
            $this->refuseWhereUsed($channel->name);
            $this->templates->renameWay($channel->name, $name);
        }
        $channel->name = $name;
        $channel->url = $this->addresses->checked($fields->url);
        $channel->standsIn = $fields->standsIn;
        $channel->room = $fields->room;
        $channel->price = $fields->price;
        if ($fields->secret !== null) {
            $channel->secret = $this->addresses->sealed($fields->secret);
        }
        $this->entities->flush();
        $this->audit->record('changed', "channel {$channel->name}", $before, self::shown($channel), $by);
    }

    /** What waits for it goes another way, and the trail of each incident says so. */
    public function remove(KeptChannel $channel, Person $by): void
    {
        $before = self::shown($channel);
        $this->entities->remove($channel);
        $this->entities->flush();
        $this->audit->record('removed', "channel {$before->name}", $before, null, $by);
    }

    public static function shown(KeptChannel $channel, ?string $secret = null): ShownKeptChannel
    {
        return new ShownKeptChannel(
            $channel->id(),
            $channel->name,
            $channel->kind,
            $channel->url,
            $channel->standsIn,
            $channel->room,
            $channel->price,
            $channel->version,
            $secret,
        );
    }

    /** @throws Problem */
    private function name(string $name, ?KeptChannel $of): string
    {
        if (preg_match('~^[\p{L}\p{N}][\p{L}\p{N}._-]*$~uD', $name) !== 1) {
            throw Problem::field('name', 'name must be one word of letters, digits, dots and dashes, such as pier-hook');
        }
        $other = $this->channels->named($name);
        if (in_array(mb_strtolower($name), [MailChannel::NAME, PushChannel::NAME], true) || ($other !== null && $other !== $of)) {
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
            throw new Problem(409, "{$name} is used by {$where}; its name stays as long as it is. Add another channel instead, or take it out there first");
        }
    }
}
