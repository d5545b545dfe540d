<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Collect\Repository\PushedRepository;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Time\Instant;

/** What a source handed in last: its readings hold until it hands in others, says that they end, or their time is over. */
#[ORM\Entity(repositoryClass: PushedRepository::class)]
#[ORM\Table(name: 'pushed')]
class Pushed
{
    /** @var resource|string deflated */
    #[ORM\Column(type: 'blob', length: 16_777_215)]
    public mixed $packed = '';

    #[ORM\Column(length: 20, enumType: Form::class)]
    public Form $form = Form::OpenMetrics;

    public function __construct(
        #[ORM\Id, ORM\Column]
        public int $targetId,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
        #[ORM\Column(type: 'instant')]
        public Instant $endsAt,
    ) {
    }

    public function take(string $text, Form $form, Instant $at, Instant $endsAt): void
    {
        [$this->packed, $this->form, $this->at, $this->endsAt] = [(string) gzdeflate($text), $form, $at, $endsAt];
    }

    public function text(): string
    {
        $packed = is_resource($this->packed) ? (string) stream_get_contents($this->packed, offset: 0) : (string) $this->packed;

        return $packed === '' ? '' : (string) @gzinflate($packed);
    }
}
