<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Olivine\Tests\App\Client;
use Olivine\Tests\App\Instance;
use PHPUnit\Framework\TestCase;

/** Checks in the interface: added with a value picked by click, a login in two steps, a failure with its evidence. */
final class CheckTest extends TestCase
{
    use SignedIn;

    /** What came back is shown; a click on a number in it makes a metric of it, which the next trial brings. */
    public function testAValueOnAPageIsPickedByClick(): void
    {
        $browser = self::$browser;
        $name = 'tide at skarn ' . bin2hex(random_bytes(2));
        $browser->go('/fleet/checks');
        $browser->press('Add …');
        $browser->waitForText('What do you want to know?');
        self::assertSame([], $browser->accessibilityFindings());
        $browser->press('Whether a page answers, and says what it should');
        $browser->find('input[name=name]')->sendKeys($name);
        $browser->find('input[aria-label="Address of What is asked"]')->sendKeys('http://127.0.0.1:' . Instance::port(2) . '/tides/forecast.json');
        $browser->press('Try');
        $browser->waitForText('It runs.', 30);
        self::assertSame([], $browser->accessibilityFindings());
        $browser->driver->findElement(WebDriverBy::cssSelector('button[title="Make a metric of json /water/height"]'))->click();
        $browser->press('Try');
        $browser->waitForText('water_height', 30);
        $browser->press('Add');
        $browser->waitForText('is asked every 1 min from now on', 30);
        $browser->press('Run now');
        $browser->waitForText('runs for', 40);
        self::assertStringContainsString('keeps water_height', $browser->text());
        self::assertSame([], $browser->accessibilityFindings());
        $browser->go('/metrics?span=1h&formula=water_height');
        $browser->waitForText('a point every', 40);
        $browser->go('/fleet?find=' . rawurlencode($name));
        $browser->pressUntil($name, 'The last exchanges');
        $browser->press('Remove');
        $browser->waitForText("Removed {$name}");
        self::assertSame([], $browser->consoleErrors());
    }

    /** A login in two steps: refused, it is said which step and why; mended, it runs again when it is run now. */
    public function testALoginInTwoSteps(): void
    {
        $browser = self::$browser;
        $this->open('passengers log in');
        try {
            Instance::fleet('/break', 'login', 'shop');
            $browser->press('Run now');
            $browser->waitForText('Step login: It needs a login that may read this: it answered with status 401', 60);
        } finally {
            Instance::fleet('/heal', 'login', 'shop');
        }
        $browser->press('Run now');
        $browser->waitForText('runs for', 60);
        self::assertStringContainsString('fills in password, shown to nobody', $browser->text());
        self::assertStringNotContainsString('two-bells', (string) $browser->driver->getPageSource());
    }

    /** The words that are missing are said; what came back instead is a click away, and stays when all is well again. */
    public function testAFailureWithItsEvidence(): void
    {
        $browser = self::$browser;
        $this->open('ticket shop answers');
        try {
            Instance::fleet('/break', 'words', 'shop');
            $browser->waitForText('runs, but something it did failed for', 60);
            $browser->waitForText('The words “Book now” are not in the answer');
        } finally {
            Instance::fleet('/heal', 'words', 'shop');
        }
        $evidence = $browser->find('section[aria-label=Evidence] button, [aria-label=Evidence] button');
        $evidence->sendKeys(WebDriverKeys::ENTER);
        $browser->waitForText('All sailings are sold out', 30);
        self::assertSame([], $browser->accessibilityFindings());
        $browser->resize(390, 844);
        $wide = $browser->driver->executeScript('return document.documentElement.scrollWidth');
        self::assertLessThanOrEqual(390, $wide, 'nothing is cut off at the side');
        $browser->resize(1280, 800);
        $browser->waitForText('runs for', 60);
        $browser->go('/fleet/checks');
        $browser->waitForText('ticket shop answers');
        self::assertSame([], $browser->accessibilityFindings());
        self::assertSame([], $browser->consoleErrors());
    }

    /** From a check one comes to its service, where what users see stands above what its machines say; certificates stand in one table. */
    public function testInsideAndOutsideOfAServiceStandTogether(): void
    {
        $browser = self::$browser;
        $this->open('ticket shop answers');
        $browser->press('tickets');
        $browser->waitForText('Seen from outside');
        foreach (['From outside', 'passengers log in', 'From inside', 'Its jobs', 'ticket settlement'] as $words) {
            $browser->waitForText($words);
        }
        self::assertStringContainsString('every', (string) $browser->find('[aria-label="From inside"] li')->getText());
        self::assertSame([], $browser->accessibilityFindings());
        $browser->resize(390, 844);
        self::assertLessThanOrEqual(390, $browser->driver->executeScript('return document.documentElement.scrollWidth'));
        $browser->resize(1280, 800);
        $browser->press('Certificates');
        $browser->waitForText('tickets.saltmarsh.example', 40);
        $browser->find('input[aria-label="Search certificates"]')->sendKeys('crew');
        Instance::eventually(static fn(): bool => !str_contains($browser->text(), 'tickets.saltmarsh.example.pem'), 10, 'others are left out');
        self::assertStringContainsString('crew.saltmarsh.example.pem', $browser->text());
        self::assertSame([], $browser->accessibilityFindings());
        self::assertSame([], $browser->consoleErrors());
    }

    /** Found by a word, tried, watched; and a rule of it put into service with the limit that its history gives. */
    public function testARecipeIsAdoptedWithLimitsFromHistory(): void
    {
        $browser = self::$browser;
        $name = 'database ' . bin2hex(random_bytes(2));
        $browser->go('/fleet/recipes');
        $browser->find('input[aria-label="Search recipes"]')->sendKeys('replica');
        $browser->waitForText('Database that shows metrics');
        self::assertStringNotContainsString('Linux host', $browser->text());
        self::assertSame([], $browser->accessibilityFindings());
        $browser->press('Database that shows metrics');
        $browser->find('input[name=url]')->sendKeys('http://127.0.0.1:' . Instance::port(2) . '/t/tickets-db/metrics');
        $browser->press('Try');
        $browser->waitForText('2 of the 2 metrics of the recipe came', 30);
        $browser->waitForText('nearly all of it was above', 40);
        self::assertSame([], $browser->accessibilityFindings());
        try {
            $browser->find('input[aria-label="Choose Database reads from disk"]')->click();
            $browser->press("Put 1\u{00A0}rule into service");
            $browser->waitForText('1 rule in service', 30);
            self::assertSame('tickets-db', $browser->find('input[name=name]')->getAttribute('value'), 'it is proposed as it calls itself');
            $browser->find('input[name=name]')->clear();
            $browser->find('input[name=name]')->sendKeys($name);
            $browser->press('Watch it');
            $browser->waitForText("{$name} is watched from now on", 30);
            $browser->go('/fleet/recipes/database-figures');
            $browser->waitForText('What it watches');
            self::assertStringContainsString($name, $browser->text());
            $rule = $this->named('/api/rules', 'Database reads from disk');
            self::assertGreaterThan(0.5, $rule['definition']['condition']['limits'][0]['limit'] ?? 0, 'not the one that stands in the file');
            self::assertSame([], $browser->consoleErrors());
        } finally {
            $ines = new Client('ines@saltmarsh.example');
            foreach (['/api/rules' => 'Database reads from disk', '/api/targets' => $name] as $path => $one) {
                $id = $this->named($path, $one)['id'] ?? null;
                if ($id !== null) {
                    $ines->send('DELETE', "{$path}/{$id}", []);
                }
            }
        }
    }

    /** Looked for at will, left aside with a reason, and taken up again. */
    public function testAFindingIsLeftAside(): void
    {
        $browser = self::$browser;
        $folder = "{$_SERVER['OLIVINE_STATE_DIR']}/recipes";
        is_dir($folder) || mkdir($folder, 0o755);
        file_put_contents("{$folder}/quay.yaml", implode("\n", [
            'olivine: 1', 'recipes:', '  quay:', '    name: Quay', '    thing: quay', '    about: A test', '    findings:', '      read:',
            '        name: A broker is read', '        grade: mend', '        when: above 0', '        remedy: Nothing is to be done.',
            '        watch: max(olivine_scrape_success where target = "broker-north", 10m)', '',
        ]));
        chmod("{$folder}/quay.yaml", 0o644);
        try {
            $browser->go('/fleet/findings');
            Instance::eventually(static function () use ($browser): bool {
                $browser->press('Look anew');
                usleep(700_000);

                return str_contains($browser->text(), 'A broker is read');
            }, 60, 'it is found');
            self::assertStringContainsString('Should be mended', $browser->text());
            self::assertSame([], $browser->accessibilityFindings());
            $browser->find('button[aria-label*="A broker is read"]')->click();
            $browser->find('input[name=reason]')->sendKeys('it is meant to be');
            $browser->press('Leave aside');
            $browser->waitForText('it is meant to be', 30);
            $browser->waitForText('Left aside by', 30);
            self::assertSame([], $browser->accessibilityFindings());
            $browser->press('Undo');
            Instance::eventually(static fn(): bool => !str_contains($browser->text(), 'it is meant to be'), 20, 'it is taken up again');
            self::assertStringContainsString('Should be mended', $browser->text());
            self::assertSame([], $browser->consoleErrors());
        } finally {
            unlink("{$folder}/quay.yaml");
            (new Client('ines@saltmarsh.example'))->send('POST', '/api/findings/look', []);
        }
    }

    /** @return array<string, mixed> */
    private function named(string $path, string $name): array
    {
        $all = (new Client('ines@saltmarsh.example'))->send('GET', $path)[1];

        return array_find($all['rules'] ?? $all, static fn(array $one): bool => ($one['definition']['name'] ?? $one['name'] ?? '') === $name) ?? [];
    }

    private function open(string $name): void
    {
        $all = (new Client('viewer@saltmarsh.example'))->send('GET', '/api/checks')[1]['checks'];
        $id = array_column($all, 'id', 'name')[$name];
        self::$browser->go("/fleet/checks/{$id}");
        self::$browser->waitForText('The last exchanges', 30);
    }
}
