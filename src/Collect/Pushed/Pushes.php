<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Pushed;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Answer\HandedIn;
use Olivine\App\Collect\Check\CheckWishes;
use Olivine\App\Collect\Entity\Place;
use Olivine\App\Collect\Entity\Pushed;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\FleetList;
use Olivine\App\Collect\Repository\PushedRepository;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Collect\SourceKind;
use Olivine\App\Collect\TargetLimits;
use Olivine\App\Collect\TargetNames;
use Olivine\App\People\Audit;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\BadReading;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\JsonReadings;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Time\Duration;

/** Takes what sources hand in. The first time that a name is used, a source of that name is there from then on. */
final readonly class Pushes
{
    private const MOST_SOURCES = 2_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private TargetRepository $targets,
        private PushedRepository $pushed,
        private TargetNames $names,
        private TargetLimits $limits,
        private CheckWishes $wishes,
        private FleetList $list,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param Form|null $form null of JSON
     *
     * @throws Problem naming what cannot be so; nothing of it is taken then
     */
    public function take(string $name, string $text, ?Form $form, Duration $holds): HandedIn
    {
        [$text, $form] = [$form === null ? self::ofJson($text) : $text, $form ?? Form::OpenMetrics];
        $readings = $this->readings($text, $form);
        $now = $this->clock->now();
        $endsAt = $now->plus($holds);
        $source = $this->source($name);
        $last = $this->pushed->find($source->id());
        if ($last === null) {
            $last = new Pushed($source->id(), $now, $endsAt);
            $this->entities->persist($last);
        }
        $last->take($text, $form, $now, $endsAt);
        $this->entities->flush();
        $this->wishes->wish($source->id(), [Place::CENTRE], $now->ms);

        return new HandedIn($source->id(), $source->name, $readings, $endsAt);
    }

    /** @throws Problem 404 */
    public function end(string $name): void
    {
        $source = $this->targets->findOneBy(['name' => $name, 'kind' => SourceKind::Pushed, 'removedAt' => null]);
        $last = $source === null ? null : $this->pushed->find($source->id());
        if ($source === null || $last === null) {
            throw new Problem(404, "Nothing was handed in under the name {$name}");
        }
        $now = $this->clock->now();
        $last->endsAt = $now->earlier($last->endsAt);
        $this->entities->flush();
        $this->wishes->wish($source->id(), [Place::CENTRE], $now->ms);
    }

    /** @throws Problem */
    private function source(string $name): Target
    {
        $there = $this->targets->findOneBy(['name' => $name]);
        if ($there !== null && $there->removedAt === null && $there->kind === SourceKind::Pushed) {
            return $there;
        }
        if ($this->targets->count(['kind' => SourceKind::Pushed, 'removedAt' => null]) >= self::MOST_SOURCES) {
            throw new Problem(409, 'There are ' . self::MOST_SOURCES . ' names already under which readings are handed in; remove some under Fleet first');
        }
        if (mb_strlen($name) > Target::NAME_LENGTH) {
            throw Problem::field('name', 'name must be at most ' . Target::NAME_LENGTH . ' characters long');
        }
        $source = new Target('', '', $this->clock->now());
        $this->names->take($source, $name);
        $source->name = $name;
        $source->kind = SourceKind::Pushed;
        $source->url = '/api/pushed/' . rawurlencode($name);
        $this->entities->persist($source);
        $this->entities->flush();
        $this->audit->record('added', "source {$name}, which hands its readings in", null, $this->list->one($source->id()));

        return $source;
    }

    /** @throws Problem */
    private static function ofJson(string $text): string
    {
        try {
            return JsonReadings::text($text);
        } catch (BadReading $fault) {
            throw Problem::field($fault->where, $fault->getMessage());
        }
    }

    /**
     * @return int how many there are
     *
     * @throws Problem
     */
    private function readings(string $text, Form $form): int
    {
        try {
            $samples = TextReader::read($text, $form, $this->limits->limits())->samples;
        } catch (BadExposition $fault) {
            throw Problem::field('body', $fault->getMessage());
        }
        if ($samples === []) {
            throw Problem::field('body', 'The body holds no readings');
        }
        $timed = array_find($samples, static fn(Sample $one): bool => $one->atMs !== null);
        if ($timed !== null) {
            throw Problem::field(
                'body',
                "{$timed->name} carries a time; what is handed in holds from now on. Readings of former times are taken by bin/olivine import",
            );
        }

        return count($samples);
    }
}
