<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Symfony\Component\Yaml\Yaml;

/** Channels, templates, mutes and actions in files: what differs, all of it or nothing, and nothing secret in them. */
final class SetupFilesTest extends TestCase
{
    use CommandsOnFiles;

    private const DOCS = __DIR__ . '/../../docs/formats';
    private const SECRET = 'a secret of at least sixteen';

    /** @return iterable<string, array{string, string, int, string}> what of the example, what stands there instead, the line, and what is said */
    public static function faults(): iterable
    {
        yield 'a key that is none' => ['kind: SMS', 'kinds: SMS', 3, 'there is no key kinds here; did you mean kind?'];
        yield 'a kind that is none' => ['kind: SMS', 'kind: pigeon', 3, 'kind must be one of webhook, chat, SMS, voice, ticket'];
        yield 'no address' => ['at: https://board.example/events', 'room: there', 4, 'at is missing'];
        yield 'a price that is none' => ['price: 0.075', 'price: dear', 3, 'price must be a whole number'];
        yield 'a secret nobody set' => ['secret: phones }', 'secret: phone }', 3, 'there is no secret phone; did you mean phones'];
        yield 'a template that cannot be read' => ['{{ incident.severity|upper }}', '{{ incident.severity|shout }}', 7, 'text: line 1: Unknown "shout" filter'];
        yield 'a mute of nothing' => ['what: site =', 'what: site', 12, 'what: After the label site'];
        yield 'a mute that ends before' => ['to: 2026-11-29 04:00', 'to: 2026-11-29 01:00', 15, 'to must be after from'];
        yield 'again, but when' => ['again: FREQ=WEEKLY', 'again: FREQ=SOMETIMES', 17, 'again: '];
        yield 'who may not' => ['who: engineer', 'who: viewers', 24, 'who must be one of'];
        yield 'values within values' => ['command: restart-gates', 'command: [restart]', 23, 'command must be one value'];
    }

    #[DataProvider('faults')]
    public function testAFaultIsToldAtItsPlace(string $what, string $instead, int $line, string $message): void
    {
        self::secret('phones');
        self::assertStringContainsString($what, self::example());
        $this->write('setup.yaml', str_replace($what, $instead, self::example()));
        [$code, $said] = $this->plan();
        self::assertSame(1, $code, $said);
        self::assertStringContainsString($message, $said);
        self::assertStringContainsString("setup.yaml:{$line}:", $said);
    }

    public function testTheExampleIsAsItsSchemaSays(): void
    {
        $schema = json_decode((string) file_get_contents(self::DOCS . '/setup.schema.json'), false, 32, JSON_THROW_ON_ERROR);
        $data = json_decode(json_encode(Yaml::parse(self::example()), JSON_THROW_ON_ERROR), false, 32, JSON_THROW_ON_ERROR);
        self::assertNull((new Validator())->validate($data, $schema)->error());
    }

    /** Planned, applied, changed by hand, and written as it is: with what names one another in the same files. */
    public function testIsPutIntoServiceAsAWhole(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        self::secret('phones');
        $name = 'files-' . bin2hex(random_bytes(3));
        $ours = ["{$name}-sms", "{$name}-board", "{$name} works", "{$name} gates", "{$name}-sms for piers"];
        $text = str_replace(['pier-sms', 'pier-board', 'lock works', 'Start the gates anew', 'e-mail for piers'], $ours, self::example());
        $text = str_replace(['gateway.example', 'board.example', 'pier.example:9105'], '127.0.0.1:' . Instance::port(7), str_replace('https', 'http', $text));
        $this->write('setup.yaml', $text . "ladders:\n  {$name}: { rungs: [\"on call by {$name}-sms\"] }\n");
        $apply = fn(string ...$how): array => self::called('olivine:apply', ['dir' => [$this->folder], '--by' => 'ines@saltmarsh.example'] + array_column(
            array_map(static fn(string $one): array => explode(' ', $one), $how),
            1,
            0,
        ));
        $letOthers = Instance::alone('plan');
        $admin->send('DELETE', '/api/plan/draft', []);
        $before = $admin->send('GET', '/api/plan')[1]['inService']['number'];
        try {
            [$code, $said] = $this->plan();
            self::assertSame(2, $code, $said);
            foreach (["channel {$name}-sms", "template {$name}-sms", "mute {$name} works", "action {$name} gates", "ladder {$name}"] as $of) {
                self::assertMatchesRegularExpression("~^added +{$of}~m", $said);
            }
            self::assertNotContains("{$name}-sms", array_column($admin->send('GET', '/api/channels/set-up')[1], 'name'), 'a plan changes nothing');
            [$code, $said] = $apply();
            self::assertSame(0, $code, $said);
            [$code, $said] = $this->plan();
            self::assertSame(0, $code, $said);
            $sms = self::named($admin->send('GET', '/api/channels/set-up')[1], "{$name}-sms");
            self::assertSame(['SMS', 'Saltmarsh', 75, false], [$sms['kind'], $sms['room'], $sms['price'], $sms['standsIn']]);
            self::assertSame('FREQ=WEEKLY;BYDAY=SU', self::named($admin->send('GET', '/api/mutes')[1]['mutes'], "{$name} works")['recurs']);

            // Somebody changes it by hand: it is shown, and refused until it is said which is meant.
            $byHand = ['room' => 'By hand', 'version' => $sms['version']] + array_diff_key($sms, ['id' => 1, 'secret' => 1]);
            self::assertSame(200, $admin->send('PUT', "/api/channels/{$sms['id']}", $byHand)[0]);
            [$code, $said] = $this->plan();
            self::assertSame(2, $code);
            self::assertStringContainsString("channel {$name}-sms  changed by hand since the last apply", $said);
            self::assertStringContainsString('room: By hand → Saltmarsh', $said);
            [$code, $said] = $apply();
            self::assertSame([1, true], [$code, str_contains($said, 'Say which is meant')]);
            self::assertSame(0, $apply('--keep hand')[0]);
            self::assertSame('By hand', self::named($admin->send('GET', '/api/channels/set-up')[1], "{$name}-sms")['room']);
            self::assertSame(0, $apply('--keep file')[0]);
            self::assertSame('Saltmarsh', self::named($admin->send('GET', '/api/channels/set-up')[1], "{$name}-sms")['room']);

            // What somebody takes away by hand is not put there again unasked; a mute that begins now began.
            $this->write('mute.yaml', "olivine: 1\nmutes:\n  {$name} now: { kind: mute, what: host = \"x\", why: y, to: 2099-01-02 03:04 }\n");
            [$code, $said] = $apply();
            self::assertSame([1, true], [$code, str_contains($said, 'for more than 31 days')], $said);
            $to = (new \DateTimeImmutable('2 hours', new \DateTimeZone('Europe/Lisbon')))->format('Y-m-d H:i');
            $this->write('mute.yaml', "olivine: 1\nmutes:\n  {$name} now: { kind: mute, what: host = \"x\", why: y, to: '{$to}' }\n");
            [$code, $said] = $apply();
            self::assertSame(0, $code, $said);
            [$code, $said] = $this->plan();
            self::assertSame(0, $code, $said);
            $mute = self::named($admin->send('GET', '/api/mutes')[1]['mutes'], "{$name} now");
            self::assertSame(200, $admin->send('POST', "/api/mutes/{$mute['id']}/end", [])[0]);
            [$code, $said] = $apply();
            self::assertSame([1, true], [$code, str_contains($said, "mute {$name} now")], $said);
            self::assertSame(0, $apply('--keep hand')[0]);
            self::assertNotContains("{$name} now", array_column($admin->send('GET', '/api/mutes')[1]['mutes'], 'name'));
            unlink("{$this->folder}/mute.yaml");

            // An address that holds a secret is named, or left out.
            $key = 'http://127.0.0.1:' . Instance::port(7) . "/hooks/{$name}0123456789abcdef";
            self::secret("{$name}-board", $key);
            $board = self::named($admin->send('GET', '/api/channels/set-up')[1], "{$name}-board");
            $open = "olivine: 1\nchannels:\n  {$name}-board: { at: secret {$name}-board }\n  {$name}-late: { at: '{$key}?key=1' }\n";
            $this->write('board.yaml', $open);
            $this->write('setup.yaml', preg_replace("~^  {$name}-board:.*\n~m", '', (string) file_get_contents("{$this->folder}/setup.yaml")) ?? '');
            [$code, $said] = $apply();
            self::assertSame(0, $code, $said);
            self::assertSame($key, self::named($admin->send('GET', '/api/channels/set-up')[1], $board['name'])['url']);
            unlink("{$this->folder}/board.yaml");

            // What is written says the same, and nothing secret; also of a mute that began a while ago, in the middle of a minute.
            $long = ['kind' => 'mute', 'name' => "{$name} long", 'matching' => 'host = "x"', 'reason' => 'y', 'to' => $to, 'zone' => 'Europe/Lisbon'];
            $long = $admin->send('POST', '/api/mutes', $long)[1]['id'];
            Instance::connect()->executeStatement('UPDATE mute SET from_at = from_at - 2717123 WHERE id = ?', [$long]);
            [$code, $written] = self::called('olivine:setup:export', []);
            self::assertSame(0, $code);
            self::assertStringNotContainsString(self::SECRET, $written);
            self::assertStringContainsString('secret: phones', $written);
            self::assertMatchesRegularExpression("~at: '?secret {$name}-board~", $written);
            self::assertStringNotContainsString('0123456789abcdef', $written);
            $this->write('setup.yaml', $written);
            [$code, $said] = $this->plan();
            self::assertSame(0, $code, $said);

            // One that cannot be so: none of it is.
            $this->write('setup.yaml', "olivine: 1\nchannels:\n  {$name}-never: { at: 'http://127.0.0.1:1/' }\ntemplates:\n  nowhere: { text: x }\n");
            [$code, $said] = $apply();
            self::assertSame(1, $code);
            self::assertStringContainsString('setup.yaml:5: template nowhere: way: there is no channel nowhere', $said);
            self::assertNotContains("{$name}-never", array_column($admin->send('GET', '/api/channels/set-up')[1], 'name'));
        } finally {
            // The ladder names a channel that goes; first it is taken out of the plan.
            $page = $admin->send('POST', '/api/plan/draft', ['revision' => $before])[1];
            $admin->send('PUT', '/api/plan', ['version' => $page['draft']['version'] ?? 0, 'reason' => 'as it was', 'overFiles' => true]);
            $letOthers();
            foreach (['/api/channels/set-up' => '/api/channels', '/api/actions' => '/api/actions'] as $list => $remove) {
                foreach ($admin->send('GET', $list)[1] as $one) {
                    if (str_contains((string) $one['name'], $name)) {
                        $admin->send('DELETE', "{$remove}/{$one['id']}", []);
                    }
                }
            }
            $database = Instance::connect();
            $database->executeStatement('DELETE FROM mute WHERE name LIKE ?', ["{$name}%"]);
            $database->executeStatement('DELETE FROM template_revision WHERE way LIKE ?', ["{$name}%"]);
        }
    }

    /** @return array{int, string} */
    private function plan(): array
    {
        return self::called('olivine:plan', ['dir' => [$this->folder], '--no-replay' => true]);
    }

    private static function secret(string $name, string $secret = self::SECRET): void
    {
        $process = new Process([PHP_BINARY, 'bin/console', 'olivine:secret:set', $name], dirname(__DIR__, 2), null, "{$secret}\n");
        $process->mustRun();
    }

    /**
     * @param array<array-key, mixed> $all
     *
     * @return array<string, mixed>
     */
    private static function named(array $all, string $name): array
    {
        return array_column($all, null, 'name')[$name];
    }

    /** The first YAML of the page, as it is written there. */
    private static function example(): string
    {
        preg_match('~```yaml\n(.*?)```~s', (string) file_get_contents(self::DOCS . '/setup.md'), $found);

        return $found[1] ?? '';
    }
}
