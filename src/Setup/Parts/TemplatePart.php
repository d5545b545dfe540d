<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

use Olivine\App\Delivery\Definition\TemplateFields;
use Olivine\App\Delivery\Repository\TemplateRepository;
use Olivine\App\Delivery\Template\Templates;
use Olivine\App\Files\Kinds;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;

/** `sms for piers: { text: … }`, or `e-mail: { title: …, text: … }` for everyone. */
final readonly class TemplatePart implements FilePart
{
    private const FOR = ' for ';

    public function __construct(private TemplateRepository $templates, private Templates $keeping, private Definitions $definitions)
    {
    }

    public function kind(): string
    {
        return Kinds::TEMPLATES;
    }

    public function word(): string
    {
        return 'template';
    }

    public function keys(): array
    {
        return ['title' => '', 'text' => ''];
    }

    public function staying(): array
    {
        return [];
    }

    public function keyOf(): array
    {
        return ['subject' => 'title'];
    }

    public function now(): array
    {
        $now = [];
        foreach ($this->templates->inService() as $one) {
            $now[$one->way . ($one->team === '' ? '' : self::FOR . $one->team)] = ['title' => $one->subject, 'text' => $one->text];
        }

        return $now;
    }

    public function check(string $name, array $written): void
    {
        $this->keeping->checkWords($this->fields($name, $written));
    }

    public function put(string $name, array $written, ?Person $author): void
    {
        $this->keeping->write($this->fields($name, $written), $author);
    }

    /**
     * @param array<string, string|int|float|bool> $written
     *
     * @throws Problem
     */
    private function fields(string $name, array $written): TemplateFields
    {
        [$way, $team] = [...explode(self::FOR, $name, 2), ''];
        $last = $this->templates->revisions($way, $team, 1)[0] ?? null;

        return $this->definitions->read(TemplateFields::class, [
            'way' => $way,
            'team' => $team,
            'subject' => $written['title'],
            'text' => $written['text'],
            'number' => $last?->removed === false ? $last->number : 0,
        ]);
    }
}
