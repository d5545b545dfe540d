<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\Check;
use Olivine\App\Collect\Answer\CheckFault;
use Olivine\App\Collect\Answer\CheckPage;
use Olivine\App\Collect\Answer\Checks;
use Olivine\App\Collect\Answer\CheckSettings;
use Olivine\App\Collect\Answer\CheckStep;
use Olivine\App\Collect\Answer\Evidence as ShownEvidence;
use Olivine\App\Collect\Answer\EvidenceLine;
use Olivine\App\Collect\Answer\PlaceName;
use Olivine\App\Collect\Entity\Evidence;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\EvidenceRepository;
use Olivine\App\Collect\Repository\PlaceRepository;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Collect\TargetPages;
use Olivine\App\Platform\Problem;
use Olivine\Core\Series\LabelSet;
use Symfony\Component\Serializer\Normalizer\DenormalizerInterface;

/** Checks as the screens show them. */
final readonly class CheckList
{
    private const LAST_EVIDENCE = 60;

    public function __construct(
        private TargetRepository $targets,
        private PlaceRepository $places,
        private EvidenceRepository $evidence,
        private CheckSecrets $secrets,
        private CheckAsks $asks,
        private CheckStates $states,
        private TargetPages $pages,
        private LastExchanges $last,
        private SeenDays $days,
        private DenormalizerInterface $denormalizer,
    ) {
    }

    public function all(): Checks
    {
        $states = $this->states->all();
        [$checks, $unread] = [[], []];
        foreach ($this->targets->checks() as $check) {
            try {
                $checks[] = new Check($this->settings($check), $states[$check->id()] ?? []);
            } catch (Problem $fault) {
                $unread[] = new CheckFault($check->id(), $check->name, $fault->getMessage());
            }
        }

        return new Checks($this->placeNames(), $checks, $unread);
    }

    /** @throws Problem where what it asks cannot be read any more */
    public function one(Target $check): Check
    {
        return new Check($this->settings($check), $this->states->all($check->id())[$check->id()] ?? []);
    }

    /** @throws Problem where what it asks cannot be read any more */
    public function page(Target $check): CheckPage
    {
        $page = $this->pages->of($check);

        return new CheckPage(
            check: $this->one($check),
            places: $this->placeNames(),
            day: $this->days->last($check),
            last: $this->last->of($check),
            evidence: array_map(self::line(...), $this->evidence->lastOf($check->id(), self::LAST_EVIDENCE)),
            incidents: $page->incidents,
            metrics: $page->metrics,
            rules: $page->rules,
        );
    }

    /**
     * What was kept is read as long as it is kept, whatever became of its check since.
     *
     * @throws Problem 404
     */
    public function evidence(int $id): ShownEvidence
    {
        $kept = $this->evidence->find($id);
        if ($kept === null) {
            throw new Problem(404, "There is no evidence {$id} any more: what is past its time is let go of");
        }
        $text = is_resource($kept->kept) ? (string) stream_get_contents($kept->kept) : '';

        $steps = array_map(fn(array $step): CheckStep => $this->denormalizer->denormalize($step, CheckStep::class), $kept->steps);

        return new ShownEvidence(
            self::line($kept),
            $steps,
            $text === '' ? '' : (string) @gzinflate($text),
        );
    }

    /** @throws Problem where what it asks cannot be read any more */
    public function settings(Target $check): CheckSettings
    {
        return new CheckSettings(
            id: $check->id(),
            name: $check->name,
            kind: $check->kind->value,
            url: $check->url,
            asks: $this->asks->of($check),
            intervalSeconds: $check->intervalSeconds,
            slowMs: $check->slowMs,
            labels: LabelSet::of($check->ownLabels),
            places: $check->places,
            isReference: $check->isReference,
            secrets: array_keys($this->secrets->open($check)->values),
            paused: $check->paused,
            version: $check->version,
        );
    }

    /** @return list<PlaceName> */
    private function placeNames(): array
    {
        $names = $this->places->names();

        return array_map(static fn(int $id, string $name): PlaceName => new PlaceName($id, $name), array_keys($names), $names);
    }

    private static function line(Evidence $kept): EvidenceLine
    {
        return new EvidenceLine($kept->id, $kept->place, $kept->at->ms, $kept->verdict->value, $kept->words, $kept->seconds);
    }
}
