<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Check\CheckForm;
use Olivine\App\Collect\Definition\CheckFields;
use Olivine\App\Collect\Definition\Encryption;
use Olivine\App\Collect\Definition\HeaderFields;
use Olivine\App\Collect\Definition\HttpFields;
use Olivine\App\Collect\Definition\HttpMethod;
use Olivine\App\Collect\Definition\HttpStepFields;
use Olivine\App\Collect\Definition\MailboxKind;
use Olivine\App\Collect\Definition\MailFields;
use Olivine\App\Collect\Definition\PingFields;
use Olivine\App\Collect\Definition\SecretFields;
use Olivine\App\Collect\Definition\TakenFields;
use Olivine\App\Collect\Definition\TcpFields;
use Olivine\App\Collect\Definition\ValueFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Problem;
use Olivine\App\Supervise\Ports;
use Olivine\Core\Time\Instant;

/** What Saltmarsh Ferries looks like from outside: its shop, a login, the forecast, the desk of the gates. */
final readonly class DemoChecks
{
    public const MAILBOX_PASSWORD = 'flood-and-ebb';
    private const PASSWORD = 'two-bells';

    public function __construct(private EntityManagerInterface $entities, private CheckForm $form)
    {
    }

    /** @throws Problem where one of them cannot be so */
    public function make(Ports $ports, Instant $now): void
    {
        $references = [
            self::reference('harbour clock', $ports->sink()),
            self::reference('uplink of the line', $ports->browser()),
        ];
        foreach ([...self::all("http://127.0.0.1:{$ports->fleet()}"), self::letters($ports), ...$references] as $fields) {
            $check = new Target('', '', $now);
            $this->form->fill($check, $fields);
            $this->entities->persist($check);
        }
        $this->entities->flush();
    }

    /** What is always up: where neither of them answers, it is the place that is cut off. */
    private static function reference(string $name, int $port): CheckFields
    {
        return new CheckFields(new TcpFields('127.0.0.1', $port), $name, 30, null, ['service' => 'our own line'], isReference: true);
    }

    /** A letter each minute, which the mailbox of the line lets nobody but this check read. */
    private static function letters(Ports $ports): CheckFields
    {
        $box = 'round-trip@saltmarsh.example';
        $asks = new MailFields(
            '127.0.0.1',
            'desk@saltmarsh.example',
            $box,
            '127.0.0.1',
            $box,
            MailboxKind::Pop3,
            $ports->round(),
            Encryption::None,
            mailboxPort: $ports->pop3(),
            mailboxEncryption: Encryption::None,
            seenWithinSeconds: 30.0,
        );

        return new CheckFields($asks, 'letters of the line', 60, 5_000, ['service' => 'letters'], secrets: [
            new SecretFields(MailFields::MAILBOX_PASSWORD, self::MAILBOX_PASSWORD),
        ]);
    }

    /** @return list<CheckFields> */
    private static function all(string $front): array
    {
        $shop = new HttpStepFields(
            "{$front}/shop/",
            expects: '"Book now" and not "sold out"',
            patienceSeconds: 5.0,
            values: [new ValueFields('berths_free', 'html //td[@id="free"]')],
        );
        $login = new HttpStepFields(
            "{$front}/shop/login",
            'login',
            HttpMethod::Post,
            [new HeaderFields('Content-Type', 'application/json')],
            '{"user": "passenger", "password": "{password}"}',
            patienceSeconds: 5.0,
            takes: [new TakenFields('token', 'json /token')],
        );
        $bookings = new HttpStepFields(
            "{$front}/shop/bookings",
            'bookings',
            headers: [new HeaderFields('X-Berth-Token', '{token}')],
            expects: 'json /queue/depth < 200',
            patienceSeconds: 5.0,
        );
        $tides = new HttpStepFields(
            "{$front}/tides/forecast.json",
            expects: 'json /water/height > 0',
            patienceSeconds: 5.0,
            values: [new ValueFields('tide_height', 'json /water/height', 'm')],
        );
        $gates = new HttpStepFields("{$front}/gates/desk.xml", expects: 'xml /desk/@state = "open"', patienceSeconds: 5.0);

        return [
            new CheckFields(new HttpFields([$shop]), 'ticket shop answers', 15, 800, ['service' => 'tickets']),
            new CheckFields(
                new HttpFields([$login, $bookings]),
                'passengers log in',
                30,
                1_500,
                ['service' => 'tickets'],
                secrets: [new SecretFields('password', self::PASSWORD)],
            ),
            new CheckFields(new HttpFields([$tides]), 'tide forecast', 30, 800, ['service' => 'tide-tables', 'site' => 'skarn']),
            new CheckFields(new HttpFields([$gates]), 'desk of the gates', 30, 800, ['service' => 'boarding-gate']),
            new CheckFields(new TcpFields('127.0.0.1', (int) parse_url($front, PHP_URL_PORT)), 'pier line', 60, 200, ['service' => 'boarding-gate']),
            new CheckFields(new PingFields('127.0.0.1'), 'way to skarn', 60, 150, ['site' => 'skarn']),
        ];
    }
}
