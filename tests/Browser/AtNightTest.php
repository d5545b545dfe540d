<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Olivine\App\Demo\DemoChannels;
use Olivine\Tests\App\Instance;
use Olivine\Tests\App\MadeUpAlerts;
use PHPUnit\Framework\TestCase;

/** What an on-call person does with a thumb: hears it, reads it, answers where they were reached, hushes what is planned. */
final class AtNightTest extends TestCase
{
    use MadeUpAlerts {
        tearDown as letGo;
    }

    private Browser $browser;

    private static \Closure $letGoOfCalls;

    /** At each hour of the day it is night. */
    public static function setUpBeforeClass(): void
    {
        self::$letGoOfCalls = Instance::withInesOnCall();
    }

    public static function tearDownAfterClass(): void
    {
        (self::$letGoOfCalls)();
    }

    protected function assertPreConditions(): void
    {
        $this->browser = new Browser(Instance::web());
    }

    protected function tearDown(): void
    {
        $this->browser->close();
        $this->database->executeStatement('DELETE FROM mute WHERE name LIKE ?', ["%{$this->service}%"]);
        $this->letGo();
    }

    /** Two rungs: the first one cannot, by SMS; the second one has it, by a key on the call; the page follows. */
    public function testTwoRungsAreClimbedAndAnsweredAtTheTelephone(): void
    {
        $incident = $this->opened('critical');
        $this->plant($incident, 'ines@saltmarsh.example', DemoChannels::SMS);
        $this->browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
        $this->browser->go("/incidents/{$incident}");
        $this->browser->waitForText('Boarding stands still');
        $sms = "//li[contains(., '{$this->title()}')][strong='SMS']";
        $this->phoneUntil($sms);
        $this->browser->driver->findElement(WebDriverBy::xpath("{$sms}//input[@name='text']"))->sendKeys(['no', WebDriverKeys::ENTER]);
        $this->browser->waitForText("you cannot see to Incident {$incident}; the next rung is climbed", 30);
        $this->plant($incident, 'oyelaran@saltmarsh.example', DemoChannels::VOICE);
        $key = "//li[contains(., '{$this->title()}')]//button[@value='1']";
        $this->phoneUntil($key);
        $this->browser->driver->findElement(WebDriverBy::xpath($key))->click();
        $this->browser->waitForText("Incident {$incident} is yours; nobody else is woken for it.", 30);
        $this->browser->go("/incidents/{$incident}");
        $this->browser->waitForText('Ines Duarte cannot by sms: the next rung is climbed at once');
        $this->browser->waitForText('Oyelaran Bright acknowledged by voice');
    }

    /** At 390 px the chosen incident comes first, its buttons lie under the thumb, and nothing needs the desk. */
    public function testTheIncidentPageUnderAThumb(): void
    {
        $incident = $this->opened('major');
        $this->browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
        $this->browser->resize(390, 844);
        $this->browser->go("/incidents/{$incident}");
        $this->browser->waitForText('I cannot', 40);
        $at = fn(string $words): array => (array) $this->browser->driver->executeScript(
            'const all = [...document.querySelectorAll("[aria-label=\'Chosen incident\'] button")];
             const b = all.find((one) => one.textContent.trim() === arguments[0] && one.offsetParent !== null);
             const r = b.getBoundingClientRect(); return {left: r.left, right: r.right, top: r.top, bottom: r.bottom};',
            [$words],
        );
        $place = $at('Acknowledge');
        self::assertGreaterThan(700, $place['top'], 'under the thumb');
        self::assertLessThanOrEqual(844, $place['bottom']);
        self::assertLessThanOrEqual(390, $at('I cannot')['right']);
        $wide = $this->browser->driver->executeScript('return document.documentElement.scrollWidth');
        self::assertLessThanOrEqual(390, $wide, 'nothing is cut off at the side');
        self::assertSame([], $this->browser->accessibilityFindings());
        // While an answer is under way nothing else can be pressed; nothing may ever lie over a button.
        $press = fn(string $words) => Instance::eventually(fn(): bool => $this->browser->driver->executeScript(
            'const all = [...document.querySelectorAll("[aria-label=\'Chosen incident\'] button")];
             const b = all.find((one) => one.textContent.trim() === arguments[0] && one.offsetParent !== null && !one.disabled);
             const r = b?.getBoundingClientRect();
             const there = r && document.elementFromPoint((r.left + r.right) / 2, (r.top + r.bottom) / 2);
             if (there && b.contains(there)) { there.click(); return true; } return false;',
            [$words],
        ) === true, 10, "{$words} can be pressed");
        $press('I cannot');
        $this->browser->waitForText('Ines Duarte cannot');
        $press('Acknowledge');
        $this->browser->waitForText('Ines Duarte acknowledged');
        self::assertSame([], $this->browser->consoleErrors());
    }

    /** A sound for critical alone: what is major makes none; what was chosen outlives the page. */
    public function testASoundOnlyForTheSeveritiesChosen(): void
    {
        $this->browser->onEachPage(
            'window.heard = [];
             window.AudioContext = class {
               constructor() { this.currentTime = 0; this.destination = {}; }
               resume() { return Promise.resolve(); }
               createOscillator() {
                 const tone = {frequency: {}, connect: (to) => to, start: () => window.heard.push(tone.frequency.value), stop: () => {}};
                 return tone;
               }
               createGain() { return {gain: {setValueAtTime() {}, exponentialRampToValueAtTime() {}}, connect: (to) => to}; }
             };',
        );
        $this->browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
        $this->browser->driver->executeScript('document.querySelector("button[aria-label*=\'your menu\']").focus()');
        $this->browser->driver->getKeyboard()->sendKeys(WebDriverKeys::ENTER);
        $this->browser->waitForText('Sound and notices');
        $this->browser->find('[role=menuitem]');
        $this->browser->driver->executeScript(
            '[...document.querySelectorAll("[role=menuitem]")].find((one) => one.textContent === "Sound and notices").click()',
        );
        $this->browser->find('input[aria-label="sound for critical"]')->click();
        $this->browser->find('input[aria-label="notice for major"]')->click();
        self::assertSame([], $this->browser->accessibilityFindings());
        $this->browser->go('/rules');
        $this->browser->waitForText('in service');
        sleep(2);
        $this->opened('major');
        $this->browser->waitForText("{$this->title()}", 60);
        self::assertSame([], $this->heard(), 'major makes no sound, and is shown');
        $rule = $this->rule('Gate is down', 'critical');
        $this->happens($rule, 'gates', 'building', 'raised', 'critical', 900);
        Instance::eventually(fn(): bool => count($this->heard()) >= 5, 60, 'critical is heard');
        self::assertSame([880], array_values(array_unique($this->heard())));
        $icon = fn(): string => (string) $this->browser->driver->executeScript('return document.querySelector("link[rel=icon]").href');
        Instance::eventually(static fn(): bool => str_contains($icon(), 'd3265a'), 20, 'the tab shows the gravest');
    }

    /** What is planned is muted from the incident, and its trail says so. */
    public function testAMuteHidesAndTheTrailSaysSo(): void
    {
        $incident = $this->opened('major');
        $this->browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
        $this->browser->go("/incidents/{$incident}");
        $this->browser->find('[data-mute]', 40);
        $this->browser->driver->getKeyboard()->sendKeys('m');
        $matching = $this->browser->find('[role=dialog] input[name=matching]');
        self::assertStringContainsString('broker = "broker-test"', (string) $matching->getAttribute('value'));
        $this->browser->waitForText('Now it hides 1 alert that is up', 30);
        $name = $this->browser->find('[role=dialog] input[name=name]');
        $name->sendKeys([WebDriverKeys::CONTROL, 'a']);
        $name->sendKeys(" {$this->service}");
        $this->browser->press('Hush them');
        $this->browser->waitForText('reason is missing');
        $this->browser->find('[role=dialog] input[name=reason]')->sendKeys('the gate is being painted');
        $this->browser->press('Hush them');
        $this->browser->waitForText('All of it is hushed until', 30);
        $this->browser->waitForText('(the gate is being painted)', 30);
        $this->browser->follow('/delivery/mutes');
        $this->browser->waitForText('the gate is being painted');
        self::assertSame([], $this->browser->accessibilityFindings());
        $this->browser->pressBeside('the gate is being painted', 'End it now');
        $this->browser->waitForText('has ended');
        $this->browser->go("/incidents/{$incident}");
        $this->browser->waitForText('not all of it is muted any more');
    }

    /** A button in the chat takes it; the desk has one ticket of it, whose owner stands on the page, commented and closed once. */
    public function testAButtonInTheChatAndATicketAtTheDesk(): void
    {
        $incident = $this->opened('major');
        $this->plant($incident, 'mei-lin@saltmarsh.example', DemoChannels::CHAT);
        $this->plantCopy($incident, 'copy opened');
        $row = "//li[contains(., '{$this->title()}')]";
        $this->seenAt(9, "{$row}//button[@value='acknowledge']");
        $this->browser->driver->findElement(WebDriverBy::xpath("{$row}//button[@value='acknowledge']"))->click();
        $this->browser->waitForText("Incident {$incident} is yours; nobody else is woken for it.", 30);
        $this->seenAt(10, "{$row}//input[@name='owner']");
        $owner = $this->browser->driver->findElement(WebDriverBy::xpath("{$row}//input[@name='owner']"));
        $owner->clear();
        $owner->sendKeys(['Piet of the piers', WebDriverKeys::ENTER]);
        $this->browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
        $this->browser->go("/incidents/{$incident}");
        $this->browser->waitForText('Mei-Lin Aaker acknowledged by crew-chat', 30);
        $this->browser->waitForText('owned by Piet of the piers', 150);
        $this->plantCopy($incident, 'copy worse');
        $tickets = static fn(): array => array_values(array_filter(
            Instance::told(10),
            static fn(array $one): bool => $one['of'] === "incident-{$incident}",
        ));
        Instance::eventually(static fn(): bool => count($tickets()[0]['comments'] ?? []) === 1, 40, 'it is commented');
        $this->browser->press('Resolve');
        $status = fn(): mixed => $this->database->fetchOne('SELECT status FROM incident WHERE id = ?', [$incident]);
        Instance::eventually(static fn(): bool => $status() === 'resolved', 30, 'it is over');
        $this->plantCopy($incident, 'copy resolved');
        Instance::eventually(static fn(): bool => ($tickets()[0]['state'] ?? '') === 'done', 60, 'it is closed');
        self::assertSame([1, 2, 'Piet of the piers'], [count($tickets()), count($tickets()[0]['comments']), $tickets()[0]['owner']]);
    }

    /** From the rule's page to the recovery: whom it would tell is seen, the telephone rings, the answer and each step's time stand there. */
    public function testARehearsalFromTheRuleToTheRecovery(): void
    {
        $this->browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
        $this->browser->go('/rules/1');
        $this->browser->press('Rehearse …');
        $this->browser->waitForText('answers for it. It would tell now:', 30);
        foreach ($this->browser->driver->findElements(WebDriverBy::cssSelector('fieldset label')) as $label) {
            if (!str_contains($label->getText(), 'Ines Duarte')) {
                $label->findElement(WebDriverBy::tagName('input'))->click();
            }
        }
        self::assertSame([], $this->browser->accessibilityFindings());
        $known = array_column(Instance::told(8), 'at');
        $this->browser->press('Prepare it');
        $this->browser->waitForText('Everybody agreed; it can begin.', 30);
        $this->browser->press('Begin');
        $rings = static fn(): ?array => array_find(Instance::told(8), static fn(array $one): bool => !in_array($one['at'], $known, true));
        Instance::eventually(static fn(): bool => $rings() !== null, 60, 'the telephone rings');
        $told = $rings() ?? [];
        self::assertStringStartsWith('[rehearsal] ', $told['message']['text']);
        preg_match('~ok (\w{3}) ~', $told['message']['text'], $code);
        Instance::press(8, '/answer', ['id' => DemoChannels::SMS . " {$told['message']['id']}", 'text' => 'ok ' . ($code[1] ?? '')]);
        $this->browser->waitForText('it was over', 60);
        $this->browser->waitForText('recovery: e-mail to Ines Duarte, taken over there', 60);
        self::assertStringContainsString('was rehearsed last: Ines Duarte answered after', $this->browser->text());
        $this->browser->press('Its trail');
        $this->browser->waitForText('This is a rehearsal; nothing is wrong.', 30);
        self::assertSame([], $this->browser->consoleErrors());
    }

    /** A queue backs up; what is prepared is asked once more and done; the queue drains, and the trail says by whom. */
    public function testAPreparedActionMendsTheQueue(): void
    {
        $this->browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
        $this->browser->go('/delivery/actions');
        $this->browser->waitForText('One action can be done at the press of a button, by whoever may.');
        self::assertSame([], $this->browser->accessibilityFindings());
        self::assertStringNotContainsString('/act', $this->browser->text(), 'an address may hold a secret');
        Instance::fleet('/break', 'queue', 'broker-south');
        try {
            $broken = fn(): mixed => $this->database->fetchOne(
                "SELECT i.id FROM incident i JOIN incident_alert a ON a.incident_id = i.id
                 WHERE i.status <> 'resolved' AND i.rehearsed_with IS NULL AND a.target = 'broker-south' AND a.cleared_at IS NULL LIMIT 1",
            );
            Instance::eventually(static fn(): bool => $broken() !== false, 150, 'the incident opens');
            $this->browser->go("/incidents/{$broken()}");
            $this->browser->press('Start the consumers anew …');
            $this->browser->waitForText('whoever boards waits for half a minute');
            self::assertSame([], $this->browser->accessibilityFindings());
            $this->browser->press('Do it');
            $this->browser->waitForText('3 consumers of broker-south started anew', 30);
            $this->browser->waitForText('Ines Duarte ran Start the consumers anew: done after', 30);
        } finally {
            Instance::fleet('/heal', 'queue', 'broker-south');
        }
        $this->browser->go('/fleet');
        $id = $this->database->fetchOne("SELECT id FROM target WHERE name = 'broker-south'");
        $this->browser->go("/fleet/{$id}");
        $this->browser->waitForText('Start the consumers anew …', 30);
        self::assertSame([], $this->browser->consoleErrors());
    }

    /** What a template makes of an incident that there was is seen while it is typed; it is put there, and taken back. */
    public function testATemplateIsSeenPutThereAndTakenBack(): void
    {
        $this->browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
        $this->browser->go('/delivery/templates?way=' . DemoChannels::VOICE);
        $this->browser->waitForText('This is Olivine.', 30);
        $text = $this->browser->find('textarea[name=text]');
        $text->sendKeys('{{ incident.severity|shout }}');
        $this->browser->waitForText('line 1: Unknown "shout" filter', 30);
        $text->sendKeys([WebDriverKeys::CONTROL, 'a']);
        $text->sendKeys("Wake up: {$this->service}, {{ incident.severity|upper }}.");
        $this->browser->waitForText("Wake up: {$this->service}, ", 30);
        self::assertSame([], $this->browser->accessibilityFindings());
        $this->browser->press('Word it so');
        $this->browser->waitForText('is worded so from its next message on', 30);
        $this->browser->press('As it ships');
        $this->browser->waitForText('back to what ships', 30);
        $this->browser->press('Take it');
        $kept = fn(): string => (string) $this->browser->find('textarea[name=text]')->getAttribute('value');
        Instance::eventually(fn(): bool => str_contains($kept(), $this->service), 20, 'the way back');
    }

    private function plantCopy(int $incident, string $kind): void
    {
        $this->database->executeStatement(
            "INSERT INTO delivery (incident_id, kind, round, person_id, channel, due_at, status, attempts, next_at, answer, message_key)
             VALUES (?, ?, 9, 0, ?, UNIX_TIMESTAMP() * 1000, 'planned', 0, 0, '', ?)",
            [$incident, $kind, DemoChannels::DESK, "night-{$kind}-{$this->service}"],
        );
    }

    private function title(): string
    {
        return "still on broker-test ({$this->service})";
    }

    private function opened(string $severity): int
    {
        $this->happens($this->rule('Boarding stands still', $severity), $this->service, 'building', 'raised', $severity, 900);
        $found = fn(): mixed => $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        Instance::eventually(static fn(): bool => $found() !== false, 40, 'there is an incident');

        return (int) $found();
    }

    private function plant(int $incident, string $email, string $channel): void
    {
        $this->database->executeStatement(
            "INSERT INTO delivery (incident_id, kind, round, person_id, channel, due_at, status, attempts, next_at, answer, message_key)
             SELECT ?, 'raised', 9, id, ?, UNIX_TIMESTAMP() * 1000, 'planned', 0, 0, '', ? FROM person WHERE email = ?",
            [$incident, $channel, "night-{$channel}-{$this->service}", $email],
        );
    }

    /** @param string $seen as XPath finds it on the page of the telephones */
    private function phoneUntil(string $seen): void
    {
        $this->seenAt(8, $seen);
    }

    private function seenAt(int $offset, string $seen): void
    {
        Instance::eventually(function () use ($offset, $seen): bool {
            $this->browser->driver->get('http://127.0.0.1:' . Instance::port($offset) . '/');

            return $this->browser->driver->findElements(WebDriverBy::xpath($seen)) !== [];
        }, 40, "the page shows {$seen}");
    }

    /** @return list<int> */
    private function heard(): array
    {
        $heard = $this->browser->driver->executeScript('return window.heard');

        return is_array($heard) ? array_values(array_map(intval(...), $heard)) : [];
    }
}
