<?php

declare(strict_types=1);

namespace Olivine\App\Web;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Platform\WholeChanges;
use Olivine\App\Platform\WorkTime;
use Psr\Cache\CacheItemPoolInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\Cache\PruneableInterface;
use Symfony\Component\DependencyInjection\Attribute\AutowireServiceClosure;
use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\KernelInterface;
use Symfony\Component\HttpKernel\TerminableInterface;

/**
 * Answers requests one after the other with an application that stays in memory: its services, its database
 * connection and all its classes are there already. What belongs to one request is reset before the next.
 */
final class WebWorker
{
    /** Our own classes, and those that database and entities take with every request. */
    private const NEEDED =
        '~^Olivine\\\\(?:Core|App\\\\(?!Bench|Demo|Supervise))' .
        '|^Doctrine\\\\DBAL\\\\(?:Types|Query|Driver\\\\PDO|Platforms\\\\Maria|Result|ArrayParameterType|ExpandArrayParameters|Exception)' .
        '|^Doctrine\\\\ORM\\\\(?:Query(?!\\\\AST\\\\Functions)|Internal\\\\Hydration|Persisters\\\\Entity|Mapping\\\\PropertyAccessors|UnitOfWork)~';
    private const SECONDS_A_REQUEST = 60;
    private const MOST_TRIES = 4;
    private const PIECE_BYTES = 32_768;
    private const PIECE_SECONDS = 0.2;
    /** A connection that worked half a second ago is not asked whether it still does. */
    private const MAY_BE_GONE_NS = 500_000_000;
    private const TIDY_EVERY_REQUESTS = 500;

    private int $answered = 0;
    private int $answeredAtNs = 0;
    private ?FastCgiRequest $current = null;
    private bool $hasBegun = false;

    /** @param \Closure(): CacheItemPoolInterface $kept made only after the account was taken that has to write there */
    public function __construct(
        private readonly KernelInterface $kernel,
        private readonly Connection $database,
        private readonly ManagerRegistry $entities,
        private readonly LoggerInterface $logger,
        #[AutowireServiceClosure('cache.app')]
        private readonly \Closure $kept,
        private readonly WorkTime $time,
    ) {
    }

    /** Before the workers part: one request, so that what all need is loaded once for all of them. */
    public function warm(): void
    {
        $request = Request::create('/api/session');
        $response = $this->kernel->handle($request);
        if ($this->kernel instanceof TerminableInterface) {
            $this->kernel->terminate($request, $response);
        }
        foreach ((array) require "{$this->kernel->getProjectDir()}/vendor/composer/autoload_classmap.php" as $class => $_) {
            if (preg_match(self::NEEDED, (string) $class) === 1) {
                class_exists((string) $class);
            }
        }
        // Workers must not share a connection.
        $this->database->close();
    }

    public function answer(FastCgiRequest $call): void
    {
        $this->current = $call;
        $this->hasBegun = false;
        set_time_limit(self::SECONDS_A_REQUEST);
        $this->checkDatabase();
        $request = $response = null;
        $this->time->awaitedBy(static function () use ($call): void {
            $call->isAwaited() || throw new NobodyWaits();
        });
        try {
            [$request, $response] = $this->handled($call);
            $this->send($call, $response);
            $call->end();
        } catch (\Throwable $error) {
            $this->giveUp($call, 'Olivine failed to do this; the log of the web part has the reason');
            if (!($error instanceof NobodyWaits)) {
                $this->logger->error('{exception}', ['exception' => $error]);
            }
        }
        $this->current = null;
        $this->time->reset();
        $this->answeredAtNs = $response === null || $response->isServerError() ? 0 : (int) hrtime(true);
        if ($request !== null && $response !== null && $this->kernel instanceof TerminableInterface) {
            $this->kernel->terminate($request, $response);
        }
        if (session_status() === \PHP_SESSION_ACTIVE) {
            session_write_close();
        }
        if (++$this->answered % self::TIDY_EVERY_REQUESTS === 0) {
            $this->tidy();
        }
        set_time_limit(0);
    }

    /**
     * A change that waited for another one which waited for it was taken back as a whole, and is done once more.
     *
     * @return array{Request, Response}
     */
    private function handled(FastCgiRequest $call): array
    {
        for ($try = 1; ; ++$try) {
            // What was reset with the kernel is what somebody asked for by then; entities must be forgotten in any case.
            $this->kernel->boot();
            $this->forgetEntities();
            rewind($call->body);
            $request = self::request($call);
            $response = $this->kernel->handle($request);
            if ($try === self::MOST_TRIES || !WholeChanges::mayBeTriedAgain($request)) {
                return [$request, $response];
            }
            usleep(random_int(5_000, 5_000 * 4 ** $try));
        }
    }

    /** Too long or too much memory ends the process; whoever waits is told so. */
    public function tellOfSuddenEnd(): void
    {
        if ($this->current === null) {
            return;
        }
        ini_set('memory_limit', '-1');
        $this->logger->error('{path} ended its worker: {error}', [
            'error' => error_get_last()['message'] ?? 'no reason known',
            'path' => $this->current->params['REQUEST_URI'] ?? '',
        ]);
        $this->giveUp($this->current, 'This took too long or too much memory; ask for less at once');
    }

    /** What was kept for some seconds, once for each incident or whoever signs in, would stay as a file. */
    private function tidy(): void
    {
        $kept = ($this->kept)();
        if ($kept instanceof PruneableInterface) {
            $kept->prune();
        }
    }

    /** Where the head is out the rest can only be missing, and must be seen to be. */
    private function giveUp(FastCgiRequest $call, string $words): void
    {
        if ($this->hasBegun) {
            $call->breakOff();

            return;
        }
        $call->write(
            "Status: 500\r\nContent-Type: application/problem+json\r\n\r\n" . json_encode(['status' => 500, 'title' => $words]),
        );
        $call->end();
    }

    private function forgetEntities(): void
    {
        $manager = $this->entities->getManager();
        $manager instanceof EntityManagerInterface && !$manager->isOpen() ? $this->entities->resetManager() : $manager->clear();
    }

    /** A connection that the server gave up while nobody asked is made anew, and a transaction that was left open is not gone on with. */
    private function checkDatabase(): void
    {
        if (!$this->database->isConnected()) {
            return;
        }
        try {
            if ($this->database->isTransactionActive()) {
                $this->database->close();

                return;
            }
            if (hrtime(true) - $this->answeredAtNs > self::MAY_BE_GONE_NS) {
                $this->database->executeQuery('SELECT 1')->free();
            }
        } catch (\Throwable) {
            $this->database->close();
        }
    }

    private static function request(FastCgiRequest $call): Request
    {
        $params = $call->params;
        parse_str($params['QUERY_STRING'] ?? '', $query);
        $form = [];
        if (str_starts_with($params['CONTENT_TYPE'] ?? '', 'application/x-www-form-urlencoded')) {
            parse_str((string) stream_get_contents($call->body), $form);
            rewind($call->body);
        }

        return new Request(
            $query,
            $form,
            [],
            HeaderUtils::parseQuery($params['HTTP_COOKIE'] ?? '', false, ';'),
            [],
            $params + ['REQUEST_TIME_FLOAT' => microtime(true), 'REQUEST_TIME' => time()],
            $call->body,
        );
    }

    /** @throws NobodyWaits */
    private function send(FastCgiRequest $call, Response $response): void
    {
        $head = "Status: {$response->getStatusCode()}\r\n";
        foreach ($response->headers->all() as $name => $values) {
            foreach ($values as $value) {
                $head .= "{$name}: {$value}\r\n";
            }
        }
        $content = $response->getContent();
        if ($content !== false) {
            $this->hasBegun = true;
            $call->write("{$head}\r\n{$content}");

            return;
        }
        $this->stream($call, $response, "{$head}\r\n");
    }

    /**
     * Hands on what is written as it is written, in pieces that are worth a record.
     *
     * @throws NobodyWaits
     */
    private function stream(FastCgiRequest $call, Response $response, string $waiting): void
    {
        $sentAt = microtime(true);
        $send = function () use ($call, &$waiting, &$sentAt): void {
            $this->hasBegun = true;
            if (!$call->write($waiting)) {
                throw new NobodyWaits();
            }
            $waiting = '';
            $sentAt = microtime(true);
        };
        // What is left over when the inner one breaks off falls into the outer one, and goes with it.
        ob_start();
        ob_start(static function (string $text) use ($send, &$waiting, &$sentAt): string {
            $waiting .= $text;
            if (strlen($waiting) >= self::PIECE_BYTES || microtime(true) - $sentAt >= self::PIECE_SECONDS) {
                $send();
            }

            return '';
        }, 1);
        try {
            $response->sendContent();
        } finally {
            $level = ob_get_level();
            while (ob_get_level() > $level - 2) {
                ob_end_clean();
            }
        }
        $send();
    }
}
