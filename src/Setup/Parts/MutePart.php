<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

use Olivine\App\Delivery\Definition\MuteFields;
use Olivine\App\Delivery\Entity\KeptMute;
use Olivine\App\Delivery\MuteKeeping;
use Olivine\App\Delivery\MuteView;
use Olivine\App\Delivery\Repository\KeptMuteRepository;
use Olivine\App\Files\Kinds;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;

/** `lock works: { kind: maintenance, what: 'site = "skarn"', why: …, from: 2026-11-29 02:00, to: 2026-11-29 04:00, again: FREQ=WEEKLY;BYDAY=SU }` */
final readonly class MutePart implements FilePart
{
    public function __construct(
        private KeptMuteRepository $mutes,
        private MuteKeeping $keeping,
        private MuteView $view,
        private Definitions $definitions,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    public function kind(): string
    {
        return Kinds::MUTES;
    }

    public function word(): string
    {
        return 'mute';
    }

    public function keys(): array
    {
        return ['kind' => 'maintenance', 'what' => '', 'why' => '', 'from' => '', 'to' => '', 'zone' => $this->settings->zone()->getName(), 'again' => ''];
    }

    public function staying(): array
    {
        return ['from'];
    }

    public function keyOf(): array
    {
        return ['matching' => 'what', 'reason' => 'why', 'recurs' => 'again'];
    }

    public function now(): array
    {
        $now = [];
        foreach ($this->mutes->notOver($this->clock->now()) as $one) {
            $zone = new \DateTimeZone($one->zone);
            $now[$one->name] = [
                'kind' => $one->kind->value,
                'what' => $one->matching,
                'why' => $one->reason,
                'from' => $one->fromAt->in($zone)->format('Y-m-d H:i'),
                'to' => $one->toAt->in($zone)->format('Y-m-d H:i'),
                'zone' => $one->zone,
                'again' => $one->recurs,
            ];
        }

        return $now;
    }

    public function check(string $name, array $written): void
    {
        $there = $this->named($name);
        if (!$this->isOver($written)) {
            $this->keeping->check($this->fields($name, $written, $there), $there);
        }
    }

    /** What is over says nothing any more. */
    public function put(string $name, array $written, ?Person $author): void
    {
        $there = $this->named($name);
        if ($this->isOver($written)) {
            return;
        }
        $fields = $this->fields($name, $written, $there);
        $there === null ? $this->keeping->set($fields, $author) : $this->keeping->change($there, $fields, $author, $this->view->shown($there));
    }

    /** @param array<string, string|int|float|bool> $written */
    public function isOver(array $written): bool
    {
        $to = \DateTimeImmutable::createFromFormat('!Y-m-d H:i', (string) $written['to'], new \DateTimeZone('UTC'));

        // A day to spare, whatever the zone.
        return $written['again'] === '' && $to !== false && $to->getTimestamp() + 86_400 < intdiv($this->clock->now()->ms, 1_000);
    }

    private function named(string $name): ?KeptMute
    {
        return array_find($this->mutes->notOver($this->clock->now()), static fn(KeptMute $one): bool => $one->name === $name);
    }

    /**
     * @param array<string, string|int|float|bool> $written
     *
     * @throws Problem
     */
    private function fields(string $name, array $written, ?KeptMute $there): MuteFields
    {
        return $this->definitions->read(MuteFields::class, [
            'name' => $name,
            'matching' => $written['what'],
            'reason' => $written['why'],
            'to' => $written['to'],
            'kind' => $written['kind'],
            'from' => $written['from'],
            'zone' => $written['zone'],
            'recurs' => $written['again'],
        ] + ($there === null ? [] : ['version' => $there->version]));
    }
}
