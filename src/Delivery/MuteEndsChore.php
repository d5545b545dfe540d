<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Definition\MuteKind;
use Olivine\App\Delivery\Repository\KeptMuteRepository;
use Olivine\App\Platform\Chore;
use Olivine\App\Platform\Settings;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Whoever muted hears before it ends that something is still up beneath: once it ends, somebody is woken for it. */
final readonly class MuteEndsChore implements Chore
{
    private const EVERY_MS = 30_000;
    private const BEFORE_MINUTES = 15;

    public function __construct(
        private KeptMuteRepository $mutes,
        private MuteView $view,
        private Letters $letters,
        private Settings $settings,
        private EntityManagerInterface $entities,
    ) {
    }

    public function name(): string
    {
        return 'a word before mutes end';
    }

    public function everyMs(): int
    {
        return self::EVERY_MS;
    }

    public function do(Instant $now): void
    {
        $this->entities->clear();
        foreach ($this->mutes->notOver($now) as $mute) {
            $endsSoon = $mute->kind === MuteKind::Mute
                && $mute->recurs === ''
                && !$mute->toAt->isAfter($now->plus(Duration::ofMinutes(self::BEFORE_MINUTES)))
                && $mute->authorId !== null;
            if (!$endsSoon) {
                continue;
            }
            $shown = $this->view->shown($mute);
            if ($shown->hides > 0) {
                $at = $mute->toAt->in($this->settings->zone())->format('H:i');
                $what = implode("\n", array_map(static fn(string $one): string => "- {$one}", $shown->titles));
                $more = $shown->hides > count($shown->titles) ? sprintf("\nand %d more", $shown->hides - count($shown->titles)) : '';
                $text = "At {$at} your mute {$mute->name} ends, and this is still up beneath it:\n\n{$what}{$more}\n\n"
                    . "Whoever is on call is told then. To set it longer, or to end it now: {$this->settings->publicUrl()}/delivery/mutes\n";
                $this->letters->post($mute->authorId ?? 0, "Your mute {$mute->name} ends at {$at}", $text, "mute-ends-{$mute->id()}-{$mute->toAt->ms}");
            }
        }
    }
}
