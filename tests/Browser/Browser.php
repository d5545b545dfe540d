<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\Chrome\ChromeDevToolsDriver;
use Facebook\WebDriver\Chrome\ChromeOptions;
use Facebook\WebDriver\Exception\ElementClickInterceptedException;
use Facebook\WebDriver\Exception\StaleElementReferenceException;
use Facebook\WebDriver\Exception\TimeoutException;
use Facebook\WebDriver\Remote\DesiredCapabilities;
use Facebook\WebDriver\Remote\RemoteWebDriver;
use Facebook\WebDriver\Remote\RemoteWebElement;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverElement;
use Olivine\Tests\App\Instance;
use Symfony\Component\Process\Process;

/** Headless Chromium at an exact size, through a ChromeDriver of its own. */
final class Browser
{
    private const FLAGS = [
        '--headless=new',
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-dev-shm-usage',
        '--hide-scrollbars',
        '--lang=en-GB',
    ];

    public readonly RemoteWebDriver $driver;
    private readonly Process $service;
    private readonly string $profile;

    public function __construct(public readonly string $address)
    {
        is_executable('/usr/bin/chromedriver')
            || throw new \RuntimeException(
                'Chromium and its driver are not on this machine. bin/olivine test installs them; or, as root: apt-get install chromium chromium-driver',
            );
        $this->service = new Process(['/usr/bin/chromedriver', '--port=0']);
        $this->service->setTimeout(null);
        $this->service->start();
        $port = null;
        $this->service->waitUntil(static function (string $type, string $text) use (&$port): bool {
            if (preg_match('~successfully on port (\d+)~', $text, $part) === 1) {
                $port = (int) $part[1];
            }

            return $port !== null;
        });
        $this->profile = sys_get_temp_dir() . '/olivine-browser-' . bin2hex(random_bytes(6));
        $options = (new ChromeOptions())->setBinary('/usr/bin/chromium')->addArguments([...self::FLAGS, "--user-data-dir={$this->profile}"]);
        $capabilities = DesiredCapabilities::chrome();
        $capabilities->setCapability(ChromeOptions::CAPABILITY, $options);
        $capabilities->setCapability('goog:loggingPrefs', ['browser' => 'ALL']);
        $this->driver = RemoteWebDriver::create("http://127.0.0.1:{$port}", $capabilities, 60_000, 240_000);
        $this->driver->manage()->timeouts()->setScriptTimeout(180);
        $this->resize(1280, 800);
    }

    public function resize(int $width, int $height): void
    {
        (new ChromeDevToolsDriver($this->driver))->execute('Emulation.setDeviceMetricsOverride', [
            'width' => $width,
            'height' => $height,
            'deviceScaleFactor' => 1,
            'mobile' => false,
        ]);
    }

    public function go(string $path): void
    {
        $this->driver->get(str_starts_with($path, 'http') ? $path : $this->address . $path);
    }

    /** To another page of the application, without loading it anew: what it keeps in mind is still there. */
    public function follow(string $path): void
    {
        $this->driver->executeScript('history.pushState({}, "", arguments[0])', [$path]);
    }

    /** Runs before anything of a page does, on each page from now on. */
    public function onEachPage(string $script): void
    {
        (new ChromeDevToolsDriver($this->driver))->execute('Page.addScriptToEvaluateOnNewDocument', ['source' => $script]);
    }

    public function forgetCache(): void
    {
        (new ChromeDevToolsDriver($this->driver))->execute('Network.clearBrowserCache');
    }

    /** @return float milliseconds of a processor that the page's main thread took since it was loaded */
    public function workedMs(): float
    {
        $tools = new ChromeDevToolsDriver($this->driver);
        $tools->execute('Performance.enable', ['timeDomain' => 'threadTicks']);
        /** @var list<array{name: string, value: float}> $metrics */
        $metrics = $tools->execute('Performance.getMetrics')['metrics'];

        return 1000 * array_column($metrics, 'value', 'name')['TaskDuration'];
    }

    public function signIn(string $email, string $password): void
    {
        $this->go('/');
        $this->find('input[name=email]')->sendKeys($email);
        $this->find('input[name=password]')->sendKeys($password);
        $this->find('button[type=submit]')->click();
        $this->find('nav[aria-label=Main]');
    }

    /** The first visible element, waited for. */
    public function find(string $css, int $seconds = 15): RemoteWebElement
    {
        $element = null;
        $this->again(function () use ($css, &$element): bool {
            $element = array_find(
                $this->driver->findElements(WebDriverBy::cssSelector($css)),
                static fn(RemoteWebElement $one): bool => $one->isDisplayed(),
            );
            if ($element !== null) {
                $this->bringIntoSight($element);
            }

            return $element !== null;
        }, "No {$css} at {$this->driver->getCurrentURL()}", $seconds);
        \assert($element instanceof RemoteWebElement);

        return $element;
    }

    /** Presses a link until what it leads to is there: a list that is renewed in that moment may swallow one. */
    public function pressUntil(string $words, string $seen): void
    {
        $path = WebDriverBy::xpath("//button[normalize-space()=\"{$words}\"]|//a[normalize-space()=\"{$words}\"]");
        $isThere = fn(): bool => str_contains($this->text(), $seen);
        $press = function () use ($path, $isThere): bool {
            $link = $isThere() ? null : $this->driver->findElements($path)[0] ?? null;
            $link?->click();
            sleep($link === null ? 0 : 2);

            return $isThere();
        };
        try {
            Instance::eventually($press, 30, $seen);
        } catch (\RuntimeException) {
            throw new \RuntimeException("{$words} does not lead to {$seen}; the page says: " . mb_substr($this->text(), 0, 1500));
        }
    }

    /** The button of that entry of a list that says these words. */
    public function pressBeside(string $words, string $button): void
    {
        $path = WebDriverBy::xpath("//li[contains(normalize-space(), \"{$words}\")]//button[normalize-space()=\"{$button}\"]");
        Instance::eventually(fn(): bool => $this->driver->findElements($path) !== [], 15, "{$button} beside {$words}");
        $this->driver->findElement($path)->click();
    }

    /** A button or link by its words; one that is drawn anew in that moment is looked for again. */
    public function press(string $words): void
    {
        $path = WebDriverBy::xpath("//button[normalize-space()=\"{$words}\"]|//a[normalize-space()=\"{$words}\"]");
        $press = function () use ($path): bool {
            $button = $this->driver->findElements($path)[0] ?? null;
            if ($button === null || !$button->isDisplayed() || !$button->isEnabled()) {
                return false;
            }
            $this->bringIntoSight($button);
            $button->click();

            return true;
        };
        $this->again($press, "No button {$words} can be pressed");
    }

    /**
     * Until it is done, where the page is drawn anew under it, or something lies over it for a moment.
     *
     * @param \Closure(): bool $do
     */
    private function again(\Closure $do, string $otherwise, int $seconds = 15): void
    {
        $this->driver->wait((int) Instance::patience($seconds), 100)->until(static function () use ($do): bool {
            try {
                return $do();
            } catch (StaleElementReferenceException|ElementClickInterceptedException) {
                return false;
            }
        }, $otherwise);
    }

    /**
     * Of a list, the first choice that begins with these words. Typed letter by letter, a slow machine takes each letter for a beginning.
     *
     * @param string $css of the list
     */
    public function choose(string $css, string $words): void
    {
        $choose = function () use ($css, $words): bool {
            foreach ($this->driver->findElements(WebDriverBy::cssSelector("{$css} option")) as $option) {
                if (str_starts_with(str_replace("\u{00A0}", ' ', trim((string) $option->getText())), $words)) {
                    $option->click();

                    return true;
                }
            }

            return false;
        };
        $this->again($choose, "No choice of {$css} begins with {$words}");
    }

    /** Under the bar at the top nobody would press it. */
    private function bringIntoSight(WebDriverElement $element): void
    {
        $this->driver->executeScript(
            "const [it] = arguments; if (!it.closest('header, [role=dialog]') && it.getBoundingClientRect().top < 60) it.scrollIntoView({ block: 'center' })",
            [$element],
        );
    }

    public function waitForText(string $text, int $seconds = 15): void
    {
        try {
            $this->driver->wait((int) Instance::patience($seconds), 150)->until(fn(): bool => str_contains($this->text(), $text));
        } catch (TimeoutException) {
            throw new \RuntimeException(
                "The page never said \"{$text}\"; it says: " . mb_substr($this->text(), 0, 1500) . "\n" . implode("\n", $this->consoleErrors()),
            );
        }
    }

    /** As it is read: value and unit are tied by a blank that does not break. */
    public function text(): string
    {
        return str_replace("\u{00A0}", ' ', (string) $this->driver->executeScript('return document.body.innerText'));
    }

    public function shot(string $file): void
    {
        $this->driver->takeScreenshot($file);
    }

    /** @return list<string> serious and critical findings of axe on the page */
    public function accessibilityFindings(): array
    {
        $this->driver->executeScript((string) file_get_contents(dirname(__DIR__, 2) . '/web/node_modules/axe-core/axe.min.js'));
        /** @var list<array{id: string, impact: string, nodes: list<array{html: string}>}> $violations */
        $violations = $this->driver->executeAsyncScript('const done = arguments[0]; axe.run(document).then((result) => done(result.violations))');
        $findings = [];
        foreach ($violations as $violation) {
            if (in_array($violation['impact'], ['serious', 'critical'], true)) {
                $findings[] =
                    $violation['id'] .
                    ': ' .
                    implode(
                        ' | ',
                        array_map(static fn(array $node): string => mb_substr($node['html'], 0, 160), array_slice($violation['nodes'], 0, 4)),
                    );
            }
        }

        return $findings;
    }

    /** @return list<string> errors in the console */
    public function consoleErrors(): array
    {
        $errors = [];
        foreach ($this->driver->manage()->getLog('browser') as $entry) {
            if ($entry['level'] === 'SEVERE') {
                $errors[] = (string) $entry['message'];
            }
        }

        return $errors;
    }

    public function close(): void
    {
        try {
            $this->driver->quit();
        } finally {
            $this->service->stop(2);
            (new Process(['rm', '-rf', $this->profile]))->run();
        }
    }
}
