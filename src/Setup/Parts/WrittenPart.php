<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

use Olivine\App\Files\YamlFile;

/** One thing of a file, with every key it has. */
final readonly class WrittenPart
{
    /** @param array<string, string|int|float|bool> $written */
    public function __construct(public FilePart $of, public string $name, public array $written, public YamlFile $file)
    {
    }

    /** `channel sms` */
    public function words(): string
    {
        return "{$this->of->word()} {$this->name}";
    }
}
