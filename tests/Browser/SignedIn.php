<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Olivine\Tests\App\Instance;

/** One browser for all tests of a class, in which an engineer is signed in. */
trait SignedIn
{
    private static Browser $browser;

    public static function setUpBeforeClass(): void
    {
        self::$browser = new Browser(Instance::web());
        self::$browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
    }

    public static function tearDownAfterClass(): void
    {
        self::$browser->close();
    }
}
