<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpClient\HttpClient;

/** Rosters over the API: revisions that leave now and the past alone, covers, absences, calendars, contact methods, handovers. */
final class RostersTest extends TestCase
{
    private const PASSWORD = 'a long enough password';
    private const ZONE = 'Europe/Lisbon';

    private Client $admin;
    /** @var array<string, array{int, string}> name → id and address */
    private array $people = [];

    protected function setUp(): void
    {
        $this->admin = new Client('admin@saltmarsh.example');
        foreach (['ana' => 'engineer', 'ben' => 'engineer', 'cleo' => 'viewer'] as $name => $role) {
            $email = "{$name}-" . bin2hex(random_bytes(4)) . '@saltmarsh.example';
            $person = ['name' => ucfirst($name) . ' ' . bin2hex(random_bytes(2)), 'email' => $email, 'role' => $role, 'password' => self::PASSWORD];
            [$status, $added] = $this->admin->send('POST', '/api/people', $person);
            self::assertSame(201, $status);
            $this->people[$name] = [$added['id'], $email];
        }
    }

    protected function tearDown(): void
    {
        foreach ($this->admin->send('GET', '/api/rosters')[1]['rosters'] as $roster) {
            if (str_starts_with($roster['name'], 'tried ')) {
                self::assertSame(204, $this->admin->send('DELETE', "/api/rosters/{$roster['id']}", [])[0]);
            }
        }
        foreach ($this->people as [$id]) {
            $this->admin->send('DELETE', "/api/people/{$id}", []);
        }
    }

    public function testAChangeLeavesNowAndThePastAlone(): void
    {
        $roster = $this->roster(['ana', 'ben']);
        $before = $this->onCall($roster['id']);
        $definition = $roster['definition'];
        $definition['rotations'][0]['people'] = $this->addresses(['ben', 'ana', 'cleo']);
        $change = ['definition' => $definition, 'reason' => 'Cleo joins', 'number' => $roster['number']];
        [$status, $tried] = $this->admin->send('POST', "/api/rosters/{$roster['id']}/what-if", $change);
        self::assertSame([200, false], [$status, $tried['changesNow']]);
        self::assertSame(3, count($tried['then']['shares']));
        self::assertSame(1, $this->admin->send('GET', "/api/rosters/{$roster['id']}")[1]['number'], 'nothing is saved by trying');

        [$status, $changed] = $this->admin->send('PUT', "/api/rosters/{$roster['id']}", $change);
        self::assertSame(200, $status);
        $after = $this->onCall($roster['id']);
        $who = static fn(array $shift): array => [$shift['personId'], $shift['from']];
        self::assertSame($who($before), $who($after), 'whoever is on call stays so until their shift ends');
        self::assertGreaterThanOrEqual($before['to'], $after['to'], 'and may be the first of the new order too');
        self::assertSame($before['to'], $changed['revisions'][0]['holdsFrom']);
        self::assertStringContainsString('people', implode(' ', $changed['revisions'][0]['changes']));
        [$status, $problem] = $this->admin->send('PUT', "/api/rosters/{$roster['id']}", $change);
        self::assertSame(409, $status, 'somebody else changed it: ' . json_encode($problem));

        $definition['rotations'][0]['people'] = $this->addresses(['ben', 'ana']);
        $now = ['definition' => $definition, 'holdsFrom' => 'now', 'number' => 2];
        self::assertTrue($this->admin->send('POST', "/api/rosters/{$roster['id']}/what-if", $now)[1]['changesNow']);
        self::assertSame(200, $this->admin->send('PUT', "/api/rosters/{$roster['id']}", $now)[0]);
        self::assertNotSame($before['personId'], $this->onCall($roster['id'])['personId'], 'unless one says so');
        $letters = $this->lettersTo('cleo');
        self::assertStringContainsString('put you on the roster', $letters[0]['subject'], 'whoever is put on a roster is told');
    }

    public function testFaultsNameTheFieldAndTheRemedy(): void
    {
        $roster = $this->roster(['ana']);
        $with = static fn(array $part): array => ['definition' => $part + $roster['definition']];
        $rotation = $roster['definition']['rotations'][0];
        $stranger = ['rotations' => [['people' => ['ines@saltmarsh.exampel']] + $rotation]];
        $cases = [
            ['people', 'did you mean ines@saltmarsh.example', $with($stranger)],
            ['zone', 'Europe/Lisbon', $with(['zone' => 'Europe/Lisboa'])],
            ['name', 'already', $with(['name' => 'web'])],
            ['at', '', $with(['rotations' => [['change' => ['everyDays' => 1, 'weekday' => 0, 'at' => ['25:00']]] + $rotation]])],
            ['from', '2026-11-23', $with(['rotations' => [['from' => '2026-02-30'] + $rotation]])],
            ['holdsFrom', 'past', ['holdsFrom' => '2020-01-01 00:00'] + $with([])],
        ];
        foreach ($cases as [$field, $words, $body]) {
            [$status, $problem] = $this->admin->send('PUT', "/api/rosters/{$roster['id']}", $body);
            self::assertSame([422, $field], [$status, $problem['field'] ?? null], json_encode($problem) ?: '');
            self::assertStringContainsString($words, $problem['title']);
        }
        self::assertSame(422, $this->admin->send('GET', "/api/rosters/{$roster['id']}?from=yesterday")[0]);
        self::assertSame(422, $this->admin->send('GET', "/api/rosters/{$roster['id']}?days=4000")[0]);
        [$status, $problem] = $this->admin->send('DELETE', '/api/rosters/2', []);
        self::assertSame(409, $status);
        self::assertStringContainsString('rung 1 of ladder piers', $problem['title'], 'where it is used');
    }

    public function testACoverIsAskedForAcceptedAndTakenBack(): void
    {
        $roster = $this->roster(['ana']);
        $ana = $this->as('ana');
        [$from, $to] = [$this->local(2), $this->local(5)];
        $wanted = ['person' => $this->people['ben'][0], 'for' => $this->people['ana'][0], 'from' => $from, 'to' => $to, 'note' => 'my sister marries'];
        self::assertSame(403, $this->as('cleo')->send('POST', "/api/rosters/{$roster['id']}/covers", $wanted)[0], 'a viewer asks for their own');
        self::assertSame(403, $ana->send('POST', "/api/rosters/{$roster['id']}/covers", ['set' => true] + $wanted)[0], 'the lead sets');
        self::assertSame('to', $ana->send('POST', "/api/rosters/{$roster['id']}/covers", ['to' => '9999-12-31 23:59'] + $wanted)[1]['field'], 'not for ever');
        $nothing = ['person' => $this->people['ana'][0], 'for' => $this->people['ben'][0]] + $wanted;
        self::assertSame('for', $ana->send('POST', "/api/rosters/{$roster['id']}/covers", $nothing)[1]['field'], 'it would change nothing');
        [$status, $cover] = $ana->send('POST', "/api/rosters/{$roster['id']}/covers", $wanted);
        self::assertSame([201, 'asked', true, false], [$status, $cover['state'], $cover['mayWithdraw'], $cover['mayAnswer']]);
        self::assertSame([$this->people['ana'][0]], $this->onCallWithin($roster['id'], $cover), 'what is asked changes nothing');
        self::assertStringContainsString('asks', $this->lettersTo('ben')[0]['subject']);

        $ben = $this->as('ben');
        self::assertSame(403, $ana->send('POST', "/api/covers/{$cover['id']}/accept", [])[0], 'only whoever was asked answers');
        self::assertSame('accepted', $ben->send('POST', "/api/covers/{$cover['id']}/accept", [])[1]['state']);
        self::assertSame(409, $ben->send('POST', "/api/covers/{$cover['id']}/decline", [])[0], 'once');
        self::assertContains($this->people['ben'][0], $this->onCallWithin($roster['id'], $cover));
        self::assertSame([$cover['id']], array_column($ben->send('GET', '/api/on-call/mine')[1]['covers'], 'id'));

        // Ben is away for a part: the cover does not take place then, and it is a gap, as Ana is covered by nobody.
        $away = ['person' => $this->people['ben'][0], 'from' => $this->local(3), 'to' => $this->local(4), 'zone' => self::ZONE];
        self::assertSame(201, $ben->send('POST', '/api/absences', $away)[0]);
        self::assertSame(
            'person',
            $ana->send('POST', "/api/rosters/{$roster['id']}/covers", ['from' => $this->local(3)] + $wanted)[1]['field'],
            'who is away is not asked',
        );
        self::assertSame(403, $this->as('cleo')->send('DELETE', "/api/covers/{$cover['id']}", [])[0]);
        self::assertSame(204, $ana->send('DELETE', "/api/covers/{$cover['id']}", [])[0]);
        self::assertSame([$this->people['ana'][0]], $this->onCallWithin($roster['id'], $cover));
    }

    /** Both halves are asked for, accepted and taken back as one. */
    public function testASwapIsAnsweredAtOnce(): void
    {
        $roster = $this->roster(['ana', 'ben'], ['everyDays' => 1, 'weekday' => 0, 'at' => ['00:00']]);
        $shifts = array_values(array_filter($roster['shifts'], static fn(array $one): bool => $one['from'] > 1_000 * (time() + 60)));
        $of = fn(string $name): array => array_values(array_filter($shifts, fn(array $one): bool => $one['personId'] === $this->people[$name][0]))[0];
        [$own, $theirs] = [$of('ana'), $of('ben')];
        $zone = new \DateTimeZone(self::ZONE);
        $local = static fn(int $ms): string => (new \DateTimeImmutable('@' . intdiv($ms, 1000)))->setTimezone($zone)->format('Y-m-d H:i');
        $swap = ['person' => $this->people['ben'][0], 'for' => $this->people['ana'][0], 'from' => $local($own['from']), 'to' => $local($own['to'])];
        $ana = $this->as('ana');
        $wrong = $swap + ['backFrom' => $local($own['from']), 'backTo' => $local($own['to'])];
        self::assertSame('backFrom', $ana->send('POST', "/api/rosters/{$roster['id']}/covers", $wrong)[1]['field'], 'Ben is not on call then');
        $right = $swap + ['backFrom' => $local($theirs['from']), 'backTo' => $local($theirs['to'])];
        [$status, $cover] = $ana->send('POST', "/api/rosters/{$roster['id']}/covers", $right);
        self::assertSame([201, true], [$status, $cover['inReturn']]);
        $covers = $ana->send('GET', '/api/on-call/mine')[1]['covers'];
        self::assertSame([false, false], array_column($covers, 'mayAnswer'), 'whoever asks answers neither half');
        self::assertSame(200, $this->as('ben')->send('POST', "/api/covers/{$cover['id']}/accept", [])[0]);
        $who = fn(array $span): array => $this->onCallWithin($roster['id'], $span);
        self::assertSame([[$this->people['ben'][0]], [$this->people['ana'][0]]], [$who($own), $who($theirs)]);
        self::assertSame(204, $ana->send('DELETE', "/api/covers/{$cover['id']}", [])[0]);
        self::assertSame([[$this->people['ana'][0]], [$this->people['ben'][0]]], [$who($own), $who($theirs)]);
    }

    public function testAnAbsenceIsAGapAndWhoeverIsBarredIsAwayForEver(): void
    {
        $roster = $this->roster(['ana']);
        $away = ['person' => $this->people['ana'][0], 'from' => $this->local(24), 'to' => $this->local(30), 'zone' => self::ZONE, 'note' => 'training'];
        self::assertSame(403, $this->as('ben')->send('POST', '/api/absences', $away)[0]);
        [$status, $absence] = $this->as('ana')->send('POST', '/api/absences', $away);
        self::assertSame(201, $status);
        $row = $this->row($roster['id']);
        self::assertSame([1, $absence['from'], $absence['to']], [$row['gaps'], $row['firstGap']['from'], $row['firstGap']['to']]);
        self::assertStringContainsString('is away', $row['firstGap']['because']);
        self::assertSame(204, $this->as('ana')->send('DELETE', "/api/absences/{$absence['id']}", [])[0]);
        self::assertSame(0, $this->row($roster['id'])['gaps']);
        self::assertSame(200, $this->admin->change("/api/people/{$this->people['ana'][0]}", ['role' => 'engineer', 'barred' => true])[0]);
        self::assertNull($this->row($roster['id'])['now']['person'], 'whoever is barred is not on call');
    }

    public function testShiftsAreSubscribedToUntilTheAddressIsEnded(): void
    {
        $roster = $this->roster(['ana', 'ben']);
        $ana = $this->as('ana');
        [$status, $link] = $ana->send('POST', '/api/calendar-links', ['roster' => null]);
        self::assertSame(201, $status);
        $read = static function (string $address): array {
            $response = HttpClient::create()->request('GET', Instance::web() . parse_url($address, PHP_URL_PATH));

            return [$response->getStatusCode(), $response->getContent(false)];
        };
        [$status, $text] = $read($link['address']);
        self::assertSame(200, $status);
        self::assertStringContainsString('SUMMARY:' . explode(' ', $this->called('ana'))[0], $text);
        self::assertStringNotContainsString($this->called('ben') . ' on call', $text, 'her own shifts only');
        [, $all] = $ana->send('POST', '/api/calendar-links', ['roster' => $roster['id']]);
        self::assertStringContainsString($this->called('ben') . ' on call', $read($all['address'])[1]);
        self::assertNull($ana->send('GET', '/api/on-call/mine')[1]['links'][0]['address'], 'told once');
        self::assertSame(404, $this->as('ben')->send('DELETE', "/api/calendar-links/{$link['id']}", [])[0]);
        self::assertSame(204, $ana->send('DELETE', "/api/calendar-links/{$link['id']}", [])[0]);
        self::assertSame(404, $read($link['address'])[0]);
        $this->admin->change("/api/people/{$this->people['ana'][0]}", ['role' => 'viewer', 'barred' => true]);
        self::assertSame(404, $read($all['address'])[0], 'a bar ends them all');
    }

    public function testACalendarOfAbsencesIsTakenAndABrokenOneChangesNothing(): void
    {
        $roster = $this->roster(['ana']);
        $ana = $this->as('ana');
        $day = (new \DateTimeImmutable('+3 days'))->format('Ymd');
        $entry = "BEGIN:VEVENT\r\nUID:a\r\nDTSTAMP:20260101T000000Z\r\nDTSTART;VALUE=DATE:{$day}\r\nSUMMARY:leave\r\nEND:VEVENT\r\n";
        $text = "BEGIN:VCALENDAR\r\nVERSION:2.0\r\n{$entry}END:VCALENDAR\r\n";
        [$status, $problem] = $ana->send('POST', '/api/absence-calendars', ['name' => 'leave', 'text' => '<html>Sign in</html>']);
        self::assertSame([422, 'text'], [$status, $problem['field']]);
        self::assertSame([], $ana->send('GET', '/api/on-call/mine')[1]['calendars'], 'what was never read is not kept');
        [$status, $calendar] = $ana->send('POST', '/api/absence-calendars', ['name' => 'leave', 'text' => $text]);
        self::assertSame([201, 1, ''], [$status, $calendar['entries'], $calendar['fault']]);
        $mine = $ana->send('GET', '/api/on-call/mine')[1];
        self::assertSame(['leave', 'leave'], [$mine['away'][0]['note'], $mine['away'][0]['calendar']]);
        self::assertSame(1, $this->row($roster['id'])['gaps']);
        self::assertSame(409, $ana->send('DELETE', "/api/absences/{$mine['away'][0]['id']}", [])[0], 'it is changed where it comes from');
        self::assertSame(403, $this->as('ben')->send('DELETE', "/api/absence-calendars/{$calendar['id']}", [])[0]);
        self::assertSame(403, $ana->send('POST', '/api/absence-calendars', ['name' => 'holidays', 'text' => $text, 'holidays' => true])[0]);
        self::assertSame('url', $ana->send('POST', '/api/absence-calendars', ['name' => 'inside', 'url' => 'http://169.254.169.254/x.ics'])[1]['field']);
        self::assertSame(204, $ana->send('DELETE', "/api/absence-calendars/{$calendar['id']}", [])[0]);
        self::assertSame(0, $this->row($roster['id'])['gaps']);
        [$status, $holidays] = $this->admin->send('POST', '/api/absence-calendars', ['name' => 'holidays', 'text' => $text, 'holidays' => true]);
        self::assertSame([201, true], [$status, $holidays['holidays']]);
        self::assertSame('', $this->admin->send('GET', '/api/settings')[1]['holidays'], 'those that were entered stay apart');
        self::assertSame(204, $this->admin->send('DELETE', "/api/absence-calendars/{$holidays['id']}", [])[0]);
    }

    public function testAWayIsVerifiedByACodeAndNotFromAmongJunk(): void
    {
        $ana = $this->as('ana');
        $phone = 'ana-' . bin2hex(random_bytes(4)) . '@phone.saltmarsh.example';
        self::assertSame('address', $ana->send('POST', '/api/session/contacts', ['label' => 'phone', 'address' => 'nowhere'])[1]['field']);
        [$status, $own] = $ana->send('POST', '/api/session/contacts', ['label' => 'phone', 'address' => $phone]);
        self::assertSame([201, 'e-mail/phone', null], [$status, $own['contacts'][1]['way'], $own['contacts'][1]['verifiedAt']]);
        self::assertSame('label', $ana->send('POST', '/api/session/contacts', ['label' => 'Phone', 'address' => $phone])[1]['field']);
        $wish = static fn(array $ways): array => $ana->send('PUT', '/api/session/wishes', ['definition' => ['critical' => $ways], 'was' => null]);
        self::assertSame(422, $wish(['e-mail/phone'])[0], 'nobody is told by what nobody tried');
        $code = $this->code($phone);
        $path = "/api/session/contacts/{$own['contacts'][1]['id']}";
        self::assertSame(404, $this->as('ben')->send('POST', "{$path}/verify", ['code' => $code])[0]);
        self::assertSame('code', $ana->send('POST', "{$path}/verify", ['code' => sprintf('%06d', ((int) $code + 1) % 1_000_000)])[1]['field']);
        [, $junk] = $ana->send('POST', "{$path}/verify", ['code' => $code, 'arrived' => 'junk']);
        self::assertSame([null, true], [$junk['contacts'][1]['verifiedAt'], $junk['contacts'][1]['wasJunk']]);
        self::assertStringContainsString('SPF', $junk['junk'], 'the likely fault is named');
        self::assertNotNull($ana->send('POST', "{$path}/verify", ['code' => $code])[1]['contacts'][1]['verifiedAt']);
        self::assertSame(200, $wish(['e-mail/phone'])[0]);
        self::assertSame('code', $ana->send('POST', "{$path}/verify", ['code' => $code])[1]['field'], 'a code counts once');
        self::assertSame(409, $ana->send('DELETE', '/api/session/contacts/' . $this->ownContact($ana), [])[0], 'what one signs in with stays');
        self::assertSame(204, $ana->send('DELETE', $path, [])[0]);
        $stranger = ['label' => 'other', 'address' => 'stranger-' . bin2hex(random_bytes(4)) . '@saltmarsh.example'];
        $answered = [];
        for ($i = 0; $i < 20 && !in_array(429, $answered, true); ++$i) {
            [$answered[], $own] = $ana->send('POST', '/api/session/contacts', $stranger);
            $last = $own['contacts'][1]['id'] ?? null;
            if ($last !== null) {
                $ana->send('DELETE', "/api/session/contacts/{$last}", []);
            }
        }
        self::assertSame([201, 429], array_values(array_unique($answered)), 'nobody is sent codes without an end');
    }

    /** The shift begins while the test runs: whoever takes over is told what is open and what was written, once. */
    public function testCardsGoOutAndIn(): void
    {
        [$status, , $text] = $this->admin->send('GET', '/api/people/cards');
        self::assertSame(200, $status);
        self::assertStringContainsString("FN:{$this->called('ana')}", $text);
        $new = 'card-' . bin2hex(random_bytes(4)) . '@saltmarsh.example';
        $cards = $text . "BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Noor Halvorsen\r\nEMAIL;TYPE=work:{$new}\r\nTEL:+44 1632 960000\r\nEND:VCARD\r\n"
            . "BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Nobody\r\nEMAIL:nowhere\r\nEND:VCARD\r\n";
        [$status, $taken] = $this->admin->send('POST', '/api/people/cards', ['text' => $cards]);
        self::assertSame([200, ['Noor Halvorsen'], ['nowhere']], [$status, $taken['added'], $taken['refused']]);
        self::assertContains('ines@saltmarsh.example', $taken['known']);
        self::assertSame(403, $this->as('ana')->send('POST', '/api/people/cards', ['text' => $cards])[0]);
        foreach (["\x00", 'BEGIN:VCARD', 'hello', "BEGIN:VCALENDAR\r\nEND:VCALENDAR"] as $garbage) {
            self::assertSame('text', $this->admin->send('POST', '/api/people/cards', ['text' => $garbage])[1]['field'] ?? null, bin2hex($garbage));
        }
        $people = array_column($this->admin->send('GET', '/api/people')[1], 'id', 'email');
        self::assertSame(204, $this->admin->send('DELETE', "/api/people/{$people[$new]}", [])[0]);
    }

    public function testAHandoverIsTold(): void
    {
        $soon = new \DateTimeImmutable('+1 minute', new \DateTimeZone(self::ZONE));
        $roster = $this->roster(['ana', 'ben'], ['everyDays' => 1, 'weekday' => 0, 'at' => [$soon->format('H:i')]]);
        $next = $this->row($roster['id'])['next'];
        $who = $next === $this->called('ana') ? 'ana' : 'ben';
        [$status, $kept] = $this->admin->send('PUT', "/api/rosters/{$roster['id']}/handover", ['text' => 'watch broker-north until 17:00', 'version' => null]);
        self::assertSame([200, $next], [$status, $kept['to']]);
        self::assertSame(409, $this->admin->send('PUT', "/api/rosters/{$roster['id']}/handover", ['text' => 'other', 'version' => 7])[0]);
        $told = [];
        Instance::eventually(function () use ($who, &$told): bool {
            $told = array_values(array_filter($this->lettersNow($who), static fn(array $one): bool => str_contains($one['subject'], 'You are on call')));

            return $told !== [];
        }, 150, 'whoever takes over is told');
        self::assertStringContainsString('watch broker-north', quoted_printable_decode((string) base64_decode($told[0]['data'], true)));
        self::assertCount(1, $told);
    }

    public function testCoverageShowsWhatDeliveryWouldDo(): void
    {
        [$status, $page] = $this->admin->send('GET', '/api/coverage');
        self::assertSame(200, $status);
        self::assertSame(['boarding', 'certificates', 'everything else'], array_column($page['paths'], 'name'));
        $gaps = array_values(array_filter($page['faults'], static fn(array $one): bool => $one['rosterId'] !== null));
        self::assertCount(1, $gaps, 'the Sunday evening of the piers');
        self::assertSame(['falls through', 'boarding'], [$gaps[0]['grade'], $gaps[0]['path']]);
        $try = ['labels' => ['service' => 'boarding-gate'], 'severity' => 'major', 'at' => date('Y-m-d H:i', intdiv($gaps[0]['from'], 1000) + 3_600)];
        $steps = $this->admin->send('POST', '/api/plan/try', $try)[1]['steps'];
        self::assertStringContainsString('rung 1 reaches nobody: roster piers is nobody', implode("\n", array_column($steps, 'words')));
        self::assertContains('Tomasz Reyes has phone/mobile, which nobody verified', array_column($page['faults'], 'words'));
    }

    /**
     * @param list<string>              $names
     * @param array<string, mixed>|null $change
     *
     * @return array<string, mixed>
     */
    private function roster(array $names, ?array $change = null): array
    {
        $rotation = [
            'name' => 'turns',
            'people' => $this->addresses($names),
            'from' => (new \DateTimeImmutable('-30 days'))->format('Y-m-d'),
            'change' => $change ?? ['everyDays' => 1, 'weekday' => 0, 'at' => ['00:00', '12:00']],
        ];
        [$status, $roster, $text] = $this->admin->send('POST', '/api/rosters', [
            'definition' => ['name' => 'tried ' . bin2hex(random_bytes(4)), 'zone' => self::ZONE, 'rotations' => [$rotation]],
        ]);
        self::assertSame(201, $status, $text);

        return $roster;
    }

    /** @return array<string, mixed> */
    private function row(int $roster): array
    {
        $rows = $this->admin->send('GET', '/api/rosters')[1]['rosters'];

        return $rows[array_search($roster, array_column($rows, 'id'), true)];
    }

    /** @return array<string, mixed> the shift that is under way */
    private function onCall(int $roster): array
    {
        return $this->row($roster)['now'];
    }

    /**
     * @param array<string, mixed> $cover
     *
     * @return list<int|null> who is on call in its span
     */
    private function onCallWithin(int $roster, array $cover): array
    {
        $day = (new \DateTimeImmutable('@' . intdiv($cover['from'], 1000)))->setTimezone(new \DateTimeZone(self::ZONE))->format('Y-m-d');
        $shifts = $this->admin->send('GET', "/api/rosters/{$roster}?from={$day}&days=2")[1]['shifts'];
        $within = array_filter($shifts, static fn(array $one): bool => $one['from'] < $cover['to'] && $one['to'] > $cover['from']);

        return array_values(array_unique(array_column($within, 'personId')));
    }

    /** A whole hour so many hours from now, on the clocks of the roster. */
    private function local(int $hours): string
    {
        return (new \DateTimeImmutable("+{$hours} hours", new \DateTimeZone(self::ZONE)))->format('Y-m-d H:00');
    }

    private function as(string $name): Client
    {
        return new Client($this->people[$name][1], self::PASSWORD);
    }

    private function called(string $name): string
    {
        return (string) Instance::connect()->fetchOne('SELECT name FROM person WHERE id = ?', [$this->people[$name][0]]);
    }

    private function ownContact(Client $person): int
    {
        $person->send('POST', '/api/session/contacts/0/code', []);

        return $person->send('GET', '/api/session/contacts')[1]['contacts'][0]['id'];
    }

    /**
     * @param list<string> $names
     *
     * @return list<string>
     */
    private function addresses(array $names): array
    {
        return array_map(fn(string $name): string => $this->people[$name][1], $names);
    }

    /** @return list<array<string, mixed>> as soon as there is one, the newest first */
    private function lettersTo(string $name): array
    {
        Instance::eventually(fn(): bool => $this->lettersNow($name) !== [], 20, "a letter to {$name}");

        return $this->lettersNow($name);
    }

    /** @return list<array<string, mixed>> */
    private function lettersNow(string $name): array
    {
        return array_values(array_filter(Instance::letters(), fn(array $one): bool => in_array($this->people[$name][1], $one['to'], true)));
    }

    private function code(string $address): string
    {
        $code = '';
        Instance::eventually(static function () use ($address, &$code): bool {
            foreach (Instance::letters() as $letter) {
                if (in_array($address, $letter['to'], true) && preg_match('~^(\d{6}) is the code~', $letter['subject'], $part) === 1) {
                    $code = $part[1];

                    return true;
                }
            }

            return false;
        }, 20, "a code at {$address}");

        return $code;
    }
}
