<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Check\CheckAsks;
use Olivine\App\Collect\Check\CheckSecrets;
use Olivine\App\Collect\Check\HttpAsker;
use Olivine\App\Collect\Check\HttpChecks;
use Olivine\App\Collect\Check\HttpRun;
use Olivine\App\Collect\Check\ReadDocuments;
use Olivine\App\Collect\Check\SocketAsker;
use Olivine\App\Collect\Check\SocketRun;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Definition\HeaderFields;
use Olivine\App\Collect\Definition\HttpFields;
use Olivine\App\Collect\Definition\HttpStepFields;
use Olivine\App\Collect\Definition\TlsFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;

/** A real web server: packed answers, redirects, a login, a server behind it that is away, a certificate of its own. */
final class WebServerTest extends TestCase
{
    use RealServers;

    private static int $port;
    private static int $tls;

    public static function setUpBeforeClass(): void
    {
        self::ownFolder('web');
        [self::$port, self::$tls, $folder, $nobody] = [self::freePort(), self::freePort(), self::$folder, self::freePort()];
        self::certificate(10);
        mkdir("{$folder}/site");
        file_put_contents("{$folder}/site/index.html", '<html><h1>Timetable</h1><td id="free">41</td>' . str_repeat('<p>sailing</p>', 2_000) . '</html>');
        file_put_contents("{$folder}/site/state.json", '{"berths": {"free": 41}}');
        file_put_contents("{$folder}/words", 'crew:' . crypt('two-bells', '$1$saltmars$') . "\n");
        [$port, $tls] = [self::$port, self::$tls];
        $server = <<<CONF
            root {$folder}/site;
            gzip on;
            gzip_types application/json;
            location = /old { return 301 /new; }
            location = /new { return 302 /; }
            location = /crew { auth_basic "crew"; auth_basic_user_file {$folder}/words; try_files /state.json =404; }
            location = /behind { proxy_pass http://127.0.0.1:{$nobody}; }
            location = /cookie { add_header Set-Cookie "berth=7; Path=/"; return 200 "given"; }
            location = /shown { return 200 "\$http_cookie \$http_user_agent \$server_protocol"; }
            CONF;
        $paths = array_map(static fn(string $of): string => "{$of}_temp_path {$folder}/{$of};", ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']);
        file_put_contents("{$folder}/nginx.conf", implode("\n", [
            "daemon off; pid {$folder}/pid; error_log {$folder}/errors; worker_processes 1; user root;",
            'events { worker_connections 256; }',
            "http { access_log off; types { text/html html; application/json json; } default_type text/plain;",
            ...$paths,
            "server { listen 127.0.0.1:{$port}; {$server} }",
            "server { listen 127.0.0.1:{$tls} ssl http2; ssl_certificate {$folder}/cert.pem; ssl_certificate_key {$folder}/key.pem; {$server} }",
            '}',
        ]));
        self::begun(['/usr/sbin/nginx', '-c', "{$folder}/nginx.conf", '-e', "{$folder}/errors"]);
        array_map(self::listens(...), [self::$port, self::$tls]);
    }

    public function testWhatIsAskedAndAnswered(): void
    {
        $base = 'http://127.0.0.1:' . self::$port;
        $login = static fn(string $word): HeaderFields => new HeaderFields('Authorization', 'Basic ' . base64_encode("crew:{$word}"));
        $sentOn = 'status 301 and header location has "/new"';
        $given = [new HttpStepFields("{$base}/cookie", 'given'), new HttpStepFields("{$base}/shown", 'shown', expects: '"berth=7"')];
        foreach (
            [
                'a packed page' => [[new HttpStepFields("{$base}/", expects: '"Timetable" and html "//td[@id=\'free\']" = 41')], Verdict::Runs, '~^$~'],
                'sent on twice' => [[new HttpStepFields("{$base}/old", expects: 'status 200 and "Timetable"')], Verdict::Runs, '~^$~'],
                'not followed' => [[new HttpStepFields("{$base}/old", follows: false, expects: $sentOn)], Verdict::Runs, '~^$~'],
                'nothing there' => [[new HttpStepFields("{$base}/gone")], Verdict::Partly, '~404~'],
                'no login' => [[new HttpStepFields("{$base}/crew")], Verdict::Partly, '~401~'],
                'a wrong one' => [[new HttpStepFields("{$base}/crew", headers: [$login('three-bells')])], Verdict::Partly, '~401~'],
                'a login' => [[new HttpStepFields("{$base}/crew", headers: [$login('two-bells')], expects: 'json /berths/free < 50')], Verdict::Runs, '~^$~'],
                'away behind it' => [[new HttpStepFields("{$base}/behind")], Verdict::Down, '~502~'],
                'a cookie on' => [$given, Verdict::Runs, '~^$~'],
                'nobody vouches' => [[new HttpStepFields('https://localhost:' . self::$tls . '/')], Verdict::Down, '~certificate~i'],
            ] as $name => [$steps, $verdict, $words]
        ) {
            $run = $this->asked($steps);
            self::assertSame($verdict, $run->judged()->verdict, "{$name}: {$run->judged()->words}");
            self::assertMatchesRegularExpression($words, $run->judged()->words, $name);
        }
        $page = $this->asked([new HttpStepFields("{$base}/old")]);
        self::assertSame(["{$base}/old", "{$base}/new"], $page->steps()[0]->via);
        $bytes = array_find($page->judged()->readings, static fn(CheckReading $one): bool => $one->metric === 'check_answer_bytes')?->value;
        self::assertEqualsWithDelta((float) filesize(self::$folder . '/site/index.html'), (float) $bytes, 0.0, 'its size, unpacked');
    }

    public function testItsCertificate(): void
    {
        foreach ([[false, Verdict::Partly, '~vouches|signed~i'], [true, Verdict::Runs, '~^$~']] as [$mayBeOurs, $verdict, $words]) {
            $definitions = (new \ReflectionClass(Definitions::class))->newInstanceWithoutConstructor();
            $asker = new SocketAsker(new Reach('loopback', 1), new CheckAsks($definitions));
            $run = new SocketRun(new Target('t', '', Instant::ofMs(0)), null, 1, new TlsFields('localhost', self::$tls, mayBeOurs: $mayBeOurs));
            $asker->start($run);
            for ($until = microtime(true) + 60; $asker->inFlight() > 0 && microtime(true) < $until;) {
                $asker->advance(0.1);
            }
            self::assertSame($verdict, $run->judged()->verdict, $run->judged()->words);
            self::assertMatchesRegularExpression($words, $run->judged()->words);
            $left = array_find($run->judged()->readings, static fn(CheckReading $one): bool => $one->metric === 'check_certificate_left_seconds')?->value;
            self::assertEqualsWithDelta(10 * 86_400, (float) $left, 600);
        }
    }

    /** @param list<HttpStepFields> $steps */
    private function asked(array $steps): HttpRun
    {
        $definitions = (new \ReflectionClass(Definitions::class))->newInstanceWithoutConstructor();
        $secrets = new CheckSecrets(new Credentials('a secret of the test', sys_get_temp_dir()));
        $asker = new HttpAsker(new Reach('loopback', 1), new HttpChecks(new CheckAsks($definitions), $secrets, new ReadDocuments()));
        $run = new HttpRun(new Target('web', '', Instant::ofMs(0)), null, 1, HttpChecks::check(new HttpFields($steps), null), [], [], []);
        $asker->start($run);
        for ($until = microtime(true) + 60; $asker->inFlight() > 0 && microtime(true) < $until;) {
            $asker->advance(0.1);
        }
        self::assertSame(0, $asker->inFlight());

        return $run;
    }
}
