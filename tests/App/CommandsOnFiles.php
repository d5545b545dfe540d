<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;
use Symfony\Component\Filesystem\Filesystem;

/** A folder of its own for each test, and the command line over it. */
trait CommandsOnFiles
{
    private static Application $console;
    private string $folder;

    public static function setUpBeforeClass(): void
    {
        self::$console = new Application(Instance::kernel());
        self::$console->setAutoExit(false);
    }

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir() . '/olivine-files-' . bin2hex(random_bytes(4));
        mkdir($this->folder);
    }

    protected function tearDown(): void
    {
        (new Filesystem())->remove($this->folder);
    }

    private function write(string $name, string $text): void
    {
        file_put_contents("{$this->folder}/{$name}", $text);
    }

    /**
     * @param array<string, mixed> $call
     *
     * @return array{int, string} how it ended, and what it said
     */
    private static function called(string $command, array $call): array
    {
        // Each call of the command line is a process of its own, which knows nothing of the one before.
        Instance::manager(Instance::managers())->getConnection()->close();
        $tester = new CommandTester(self::$console->find($command));

        return [$tester->execute($call), $tester->getDisplay()];
    }
}
