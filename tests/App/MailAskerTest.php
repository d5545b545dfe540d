<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Check\CheckAsks;
use Olivine\App\Collect\Check\CheckSecrets;
use Olivine\App\Collect\Check\Logins;
use Olivine\App\Collect\Check\Mail\Mailbox;
use Olivine\App\Collect\Check\MailAsker;
use Olivine\App\Collect\Check\OpenSecrets;
use Olivine\App\Collect\Check\SocketRun;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Definition\Encryption;
use Olivine\App\Collect\Definition\MailboxKind;
use Olivine\App\Collect\Definition\MailFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** Letters through a real mail server into real mailboxes of both kinds, and through servers that are none. */
final class MailAskerTest extends TestCase
{
    use RealServers;

    private const PLAIN = ['kind' => MailboxKind::Imap, 'encryption' => Encryption::None, 'boxEncryption' => Encryption::None, 'box' => 'imap'];
    private const PASSWORD = 'tide "and" \time';
    /** @var array<string, int> what it is → its port */
    private static array $ports = [];

    public static function setUpBeforeClass(): void
    {
        self::ownFolder('mail');
        foreach (['smtp', 'imap', 'imaps', 'pop3', 'pop3s'] as $name) {
            self::$ports[$name] = self::freePort();
        }
        $folder = self::$folder;
        foreach (['box/new', 'box/cur', 'box/tmp', 'exim', 'run', 'home'] as $one) {
            mkdir("{$folder}/{$one}", 0o777, true);
        }
        self::certificate(2);
        (new Process(['chown', '-R', 'Debian-exim:Debian-exim', "{$folder}/box", "{$folder}/home"]))->mustRun();
        (new Process(['chown', '-R', 'Debian-exim', "{$folder}/exim"]))->mustRun();
        self::mailServer();
        self::mailboxes();
        array_map(self::listens(...), array_values(self::$ports));
    }

    protected function setUp(): void
    {
        array_map(unlink(...), $this->letters());
    }

    public function testALetterArrivesOnEachWay(): void
    {
        foreach (
            [
                [MailboxKind::Imap, Encryption::None, Encryption::None, 'imap'],
                [MailboxKind::Imap, Encryption::StartTls, Encryption::Tls, 'imaps'],
                [MailboxKind::Imap, Encryption::StartTls, Encryption::StartTls, 'imap'],
                [MailboxKind::Pop3, Encryption::StartTls, Encryption::None, 'pop3'],
                [MailboxKind::Pop3, Encryption::None, Encryption::Tls, 'pop3s'],
                [MailboxKind::Pop3, Encryption::None, Encryption::StartTls, 'pop3'],
            ] as [$kind, $encryption, $boxEncryption, $port]
        ) {
            $foreign = $this->laid('X-Other: 1', 'of a person');
            $late = $this->laid(Mailbox::OF . ': ' . $this->whose() . "\r\n" . Mailbox::ROUND . ': 0123456789ab', 'of yesterday');
            $run = $this->asked($this->fields($kind, $encryption, $boxEncryption, $port, user: 'crew'));
            $found = $run->judged();
            self::assertSame([Verdict::Runs, 'One of a former round came late'], [$found->verdict, $found->words], $port);
            $phases = $run->steps()[0]->phases;
            self::assertTrue($phases->connect > 0.0 && $phases->wait > 0.0 && $phases->transfer > 0.0);
            self::assertSame(1.0, array_find($found->readings, static fn(CheckReading $one): bool => $one->metric === 'check_mail_late')?->value);
            self::assertEqualsWithDelta((float) $phases->total(), $this->value($run, 'check_duration_seconds'), 1e-6);
            self::assertTrue($this->isThere($foreign), 'the letter of another stays');
            self::assertFalse($this->isThere($late), 'our own, late one is removed');
            self::assertCount(1, $this->letters(), 'and so is the one that was seen');
            array_map(unlink(...), $this->letters());
        }
    }

    public function testWhereALetterStopsIsSaid(): void
    {
        $plain = fn(mixed ...$other): MailFields => $this->fields(...[...self::PLAIN, ...$other]);
        $nobody = self::freePort();
        foreach (
            [
                [$plain(to: 'nobody@saltmarsh.example'), Verdict::Partly, '~^The letter was refused: .*550.*no such berth~'],
                [$plain(to: 'lost@saltmarsh.example', seenWithin: 2.0), Verdict::Partly, '~^The letter was taken, but did not arrive within 2 s$~'],
                [$plain(port: $nobody), Verdict::Down, '~refused~'],
                [$plain(boxPort: $nobody, seenWithin: 2.0), Verdict::Partly, '~^The letter was taken, and then: the mailbox cannot be reached: .*refused~'],
                // Each of the two ports speaks the other's language.
                [$plain(boxPort: self::$ports['smtp'], seenWithin: 2.0), Verdict::Partly, '~what answers there is no IMAP~'],
                [$plain(port: self::$ports['imap']), Verdict::Down, '~~'],
                [$plain(isVouched: true, encryption: Encryption::StartTls), Verdict::Down, '~certificate~'],
                [
                    $this->fields(MailboxKind::Imap, Encryption::None, Encryption::Tls, 'imaps', isVouched: true, seenWithin: 2.0),
                    Verdict::Partly,
                    '~No TLS with the mailbox|no TLS with the mailbox~',
                ],
            ] as [$fields, $verdict, $words]
        ) {
            $found = $this->asked($fields)->judged();
            self::assertMatchesRegularExpression($words, $found->words);
            self::assertSame($verdict, $found->verdict, $found->words);
            self::assertStringNotContainsString(self::PASSWORD, $found->words);
        }
        $from = microtime(true);
        $words = $this->asked($plain(seenWithin: 30.0), 'another password')->judged()->words;
        self::assertMatchesRegularExpression('~^The letter was taken, and then: the mailbox lets nobody in~', $words);
        self::assertLessThan(25, microtime(true) - $from, 'a wrong password is not tried over and over');
        $words = $this->asked($plain(user: 'crew'), self::PASSWORD, 'another password')->judged()->words;
        self::assertMatchesRegularExpression('~535|authenticat~i', $words);
        array_map(unlink(...), $this->letters());
    }

    /** Whatever stands where a mailbox should, its check ends in time and in words. */
    public function testMailboxesThatAreNoneHarmNobody(): void
    {
        $login = "* OK here\r\na1 OK\r\na2 OK\r\na3 OK\r\n";
        foreach (
            [
                'silent' => ['', '~did not answer within 1 s~'],
                'a line without an end' => ['* OK ' . str_repeat('x', 3_000_000), '~does not end~'],
                'a letter without an end' => [
                    "{$login}a4 OK\r\n* SEARCH 1\r\na5 OK\r\n* 1 FETCH {9999999}\r\n" . str_repeat("x\r\n", 1_500_000),
                    '~more than is read|does not end~',
                ],
                'many letters' => ["{$login}a4 OK\r\n* SEARCH " . str_repeat('7 ', 20_000) . "\r\na5 OK\r\n", '~did not answer|did not arrive~'],
                'nonsense' => ["\xff\xfe\x00\r\n", '~no IMAP~'],
                'a byte now and then' => [str_repeat('*', 400), '~did not answer within 1 s~', 1],
                'goodbye' => ["* BYE\r\n", '~no IMAP~'],
            ] as $name => $case
        ) {
            [$says, $words, $atOnce] = [...$case, 65_536];
            $server = stream_socket_server('tcp://127.0.0.1:0');
            self::assertNotFalse($server);
            stream_set_blocking($server, false);
            $port = (int) substr((string) strrchr((string) stream_socket_get_name($server, false), ':'), 1);
            [$guests, $left] = [[], []];
            $serves = static function () use ($server, $says, $atOnce, &$guests, &$left): void {
                while (($guest = @stream_socket_accept($server, 0)) !== false) {
                    stream_set_blocking($guest, false);
                    [$guests[], $left[]] = [$guest, $says];
                }
                foreach ($guests as $i => $guest) {
                    $left[$i] = substr($left[$i], (int) @fwrite($guest, substr($left[$i], 0, $atOnce)));
                }
            };
            $fields = $this->fields(
                MailboxKind::Imap,
                Encryption::None,
                Encryption::None,
                'imap',
                boxPort: $port,
                to: 'lost@saltmarsh.example',
                seenWithin: 2.0,
                patience: 1.0,
            );
            $from = microtime(true);
            $found = $this->asked($fields, serves: $serves)->judged();
            self::assertLessThan(40, microtime(true) - $from, $name);
            self::assertSame(Verdict::Partly, $found->verdict, $name);
            self::assertMatchesRegularExpression($words, $found->words, $name);
            fclose($server);
        }
    }

    public function testNothingGoesWhereItMayNot(): void
    {
        $plain = $this->fields(...self::PLAIN);
        $found = $this->asked($plain, mayAsk: '')->judged();
        self::assertSame(Verdict::Unknown, $found->verdict);
        $moved = $this->fields(MailboxKind::Imap, Encryption::None, Encryption::Tls, 'imaps');
        $found = $this->asked($plain, enteredFor: $moved)->judged();
        self::assertStringContainsString('was entered for another server', $found->words, 'nor without the TLS it was entered for');
        self::assertSame([], $this->letters(), 'and no letter is sent');
    }

    private function fields(
        MailboxKind $kind,
        Encryption $encryption,
        Encryption $boxEncryption,
        string $box,
        string $user = '',
        string $to = 'desk@saltmarsh.example',
        ?int $port = null,
        ?int $boxPort = null,
        bool $isVouched = false,
        float $seenWithin = 40.0,
        float $patience = 10.0,
    ): MailFields {
        return new MailFields(
            'localhost',
            'round@saltmarsh.example',
            $to,
            'localhost',
            'desk',
            $kind,
            $port ?? self::$ports['smtp'],
            $encryption,
            $user,
            $boxPort ?? self::$ports[$box],
            $boxEncryption,
            !$isVouched,
            $patience,
            $seenWithin,
        );
    }

    private function asked(
        MailFields $fields,
        string $boxPassword = self::PASSWORD,
        string $password = self::PASSWORD,
        ?MailFields $enteredFor = null,
        string $mayAsk = 'loopback',
        ?\Closure $serves = null,
    ): SocketRun {
        $secrets = new CheckSecrets(new Credentials('a secret of the test', sys_get_temp_dir()));
        $definitions = (new \ReflectionClass(Definitions::class))->newInstanceWithoutConstructor();
        $asker = new MailAsker(new Reach($mayAsk, 1), new CheckAsks($definitions), new Logins($secrets));
        $target = new Target('round', '', Instant::ofMs(0));
        $target->id = 7;
        $where = array_merge(...array_values(($enteredFor ?? $fields)->logins()));
        $secrets->seal($target, new OpenSecrets([MailFields::PASSWORD => $password, MailFields::MAILBOX_PASSWORD => $boxPassword], $where));
        $run = new SocketRun($target, null, 1, $fields);
        $asker->start($run);
        for ($until = microtime(true) + 120; $asker->inFlight() > 0 && microtime(true) < $until;) {
            $asker->advance($serves === null ? 0.1 : 0.01);
            if ($serves !== null) {
                $serves();
            }
        }
        self::assertSame(0, $asker->inFlight());

        return $run;
    }

    private function value(SocketRun $run, string $metric): ?float
    {
        return array_find($run->judged()->readings, static fn(CheckReading $one): bool => $one->metric === $metric)?->value;
    }

    private function whose(): string
    {
        return substr(hash('sha256', Mailbox::OF . ' round@saltmarsh.example desk@saltmarsh.example 7 1 ' . gethostname()), 0, 24);
    }

    /** Lays a letter into the mailbox. */
    private function laid(string $header, string $subject): string
    {
        $path = self::$folder . '/box/new/' . hrtime(true) . '.laid';
        file_put_contents($path, "From: a@saltmarsh.example\r\nSubject: {$subject}\r\n{$header}\r\n\r\nHello\r\n");
        chmod($path, 0o666);
        chown($path, 'Debian-exim');

        return basename($path);
    }

    /** @return list<string> */
    private function letters(): array
    {
        return glob(self::$folder . '/box/{new,cur}/*', GLOB_BRACE) ?: [];
    }

    private function isThere(string $name): bool
    {
        return array_any($this->letters(), static fn(string $path): bool => str_starts_with(basename($path), $name));
    }

    private static function mailServer(): void
    {
        [$folder, $port, $password] = [self::$folder, self::$ports['smtp'], addcslashes(self::PASSWORD, '\\"')];
        file_put_contents("{$folder}/exim.conf", <<<CONF
            primary_hostname = mail.saltmarsh.example
            spool_directory = {$folder}/exim
            log_file_path = {$folder}/exim/log_%s
            pid_file_path = {$folder}/exim/pid
            local_interfaces = 127.0.0.1
            daemon_smtp_ports = {$port}
            domainlist local = saltmarsh.example
            tls_certificate = {$folder}/cert.pem
            tls_privatekey = {$folder}/key.pem
            tls_advertise_hosts = *
            auth_advertise_hosts = *
            acl_smtp_rcpt = taken
            begin acl
            taken:
              deny message = there is no such berth
                   local_parts = nobody
              accept domains = +local
              deny
            begin routers
            lost:
              driver = redirect
              local_parts = lost
              data = :blackhole:
            box:
              driver = accept
              transport = box
            begin transports
            box:
              driver = appendfile
              directory = {$folder}/box
              maildir_format
              create_directory = false
            begin authenticators
            plain:
              driver = plaintext
              public_name = PLAIN
              server_prompts = :
              server_condition = \${if and {{eq{\$auth2}{crew}} {eq{\$auth3}{{$password}}}}}
              server_set_id = \$auth2
            CONF);
        self::begun(['/usr/sbin/exim4', '-C', "{$folder}/exim.conf", '-bdf']);
    }

    private static function mailboxes(): void
    {
        [$folder, $ports] = [self::$folder, self::$ports];
        file_put_contents("{$folder}/users", 'desk:{PLAIN}' . self::PASSWORD . "\n");
        chmod("{$folder}/users", 0o644);
        file_put_contents("{$folder}/dovecot.conf", <<<CONF
            base_dir = {$folder}/run
            state_dir = {$folder}/run
            log_path = {$folder}/run/log
            protocols = imap pop3
            listen = 127.0.0.1
            ssl = yes
            ssl_cert = <{$folder}/cert.pem
            ssl_key = <{$folder}/key.pem
            disable_plaintext_auth = no
            auth_failure_delay = 1 secs
            first_valid_uid = 1
            mail_location = maildir:{$folder}/box
            passdb {
              driver = passwd-file
              args = {$folder}/users
            }
            userdb {
              driver = static
              args = uid=Debian-exim gid=Debian-exim home={$folder}/home
            }
            service imap-login {
              inet_listener imap {
                port = {$ports['imap']}
              }
              inet_listener imaps {
                port = {$ports['imaps']}
                ssl = yes
              }
            }
            service pop3-login {
              inet_listener pop3 {
                port = {$ports['pop3']}
              }
              inet_listener pop3s {
                port = {$ports['pop3s']}
                ssl = yes
              }
            }
            CONF);
        self::begun(['/usr/sbin/dovecot', '-F', '-c', "{$folder}/dovecot.conf"]);
    }
}
