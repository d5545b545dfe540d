<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

use Olivine\App\Delivery\Action\Actions;
use Olivine\App\Delivery\Definition\ActionFields;
use Olivine\App\Delivery\Repository\ActionRepository;
use Olivine\App\Files\Kinds;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Setup\NamedSecrets;

/** `Start the consumers anew: { does: …, for: 'queue = "boarding"', at: http://…/run, command: restart-consumers, who: engineer, secret: agents }` */
final readonly class ActionPart implements FilePart
{
    public function __construct(
        private ActionRepository $actions,
        private Actions $keeping,
        private Definitions $definitions,
        private NamedSecrets $secrets,
    ) {
    }

    public function kind(): string
    {
        return Kinds::ACTIONS;
    }

    public function word(): string
    {
        return 'action';
    }

    public function keys(): array
    {
        return ['does' => '', 'for' => '', 'at' => '', 'command' => '', 'who' => 'engineer', 'secret' => ''];
    }

    public function staying(): array
    {
        return ['at', 'secret'];
    }

    public function keyOf(): array
    {
        return ['words' => 'does', 'matching' => 'for', 'url' => 'at', 'role' => 'who'];
    }

    public function now(): array
    {
        $now = [];
        foreach ($this->actions->byName() as $one) {
            $now[$one->name] = [
                'does' => $one->words,
                'for' => $one->matching,
                'at' => WrittenSecret::addressWords($one->url, $this->secrets),
                'command' => $one->command,
                'who' => $one->role->value,
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
        $there = $this->actions->named($name);
        $fields = $this->fields($name, $written, $there?->version);
        $there === null ? $this->keeping->add($fields, $author) : $this->keeping->change($there, $fields, $author);
    }

    /**
     * @param array<string, string|int|float|bool> $written
     *
     * @throws Problem
     */
    private function fields(string $name, array $written, ?int $version): ActionFields
    {
        return $this->definitions->read(ActionFields::class, [
            'name' => $name,
            'words' => $written['does'],
            'matching' => $written['for'],
            'url' => WrittenSecret::address($written, $this->secrets),
            'command' => $written['command'],
            'role' => $written['who'],
        ] + WrittenSecret::of($written, $this->secrets) + ($version === null ? [] : ['version' => $version]));
    }
}
