<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

use Olivine\App\Delivery\Channel\ChannelKeeping;
use Olivine\App\Delivery\Definition\ChannelFields;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Files\Kinds;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Setup\NamedSecrets;

/** `sms: { kind: SMS, at: https://gateway.example/messages, shown as: Saltmarsh, price: 0.075, secret: phones }` */
final readonly class ChannelPart implements FilePart
{
    private const THOUSANDTHS = 1_000;

    public function __construct(
        private KeptChannelRepository $channels,
        private ChannelKeeping $keeping,
        private Definitions $definitions,
        private NamedSecrets $secrets,
    ) {
    }

    public function kind(): string
    {
        return Kinds::CHANNELS;
    }

    public function word(): string
    {
        return 'channel';
    }

    public function keys(): array
    {
        return ['kind' => 'webhook', 'at' => '', 'room' => '', 'price' => 0, 'stands-in' => true, 'secret' => ''];
    }

    public function staying(): array
    {
        return ['at', 'secret'];
    }

    public function keyOf(): array
    {
        return ['url' => 'at', 'standsIn' => 'stands-in'];
    }

    public function now(): array
    {
        $now = [];
        foreach ($this->channels->byName() as $one) {
            $now[$one->name] = [
                'kind' => $one->kind->value,
                'at' => WrittenSecret::addressWords($one->url, $this->secrets),
                'room' => $one->room,
                'price' => $one->price / self::THOUSANDTHS,
                'stands-in' => $one->standsIn,
                'secret' => $this->secrets->nameOf($one->secret),
            ];
        }

        return $now;
    }

    public function check(string $name, array $written): void
    {
        $this->fields($name, $written, null);
    }

    public function put(string $name, array $written, ?Person $author): void
    {
        $there = $this->channels->named($name);
        $fields = $this->fields($name, $written, $there?->version);
        $there === null ? $this->keeping->add($fields, $author) : $this->keeping->change($there, $fields, $author);
    }

    /**
     * @param array<string, string|int|float|bool> $written
     *
     * @throws Problem
     */
    private function fields(string $name, array $written, ?int $version): ChannelFields
    {
        return $this->definitions->read(ChannelFields::class, [
            'name' => $name,
            'url' => WrittenSecret::address($written, $this->secrets),
            'kind' => $written['kind'],
            'standsIn' => $written['stands-in'],
            'room' => $written['room'],
            'price' => is_numeric($written['price']) ? (int) round(self::THOUSANDTHS * (float) $written['price']) : $written['price'],
        ] + WrittenSecret::of($written, $this->secrets) + ($version === null ? [] : ['version' => $version]));
    }
}
