<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\TargetGroup;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\WholeChanges;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\ControllerArgumentsEvent;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Symfony\Component\HttpKernel\HttpKernelInterface;

/** The one transaction around a change, over a real MariaDB that goes away at the worst moments. */
final class WholeChangesTest extends TestCase
{
    /** @return iterable<string, array{string, bool, bool}> what happens in the middle, whether that is a fault, and whether the change is there afterwards */
    public static function lives(): iterable
    {
        yield 'all goes well' => ['nothing', false, true];
        yield 'the controller refuses' => ['nothing', true, false];
        yield 'the server ends the connection, and the controller hears of it' => ['killed', true, false];
        yield 'the server ends the connection, and the controller does not hear of it' => ['killed', false, false];
        yield 'somebody below closed the connection' => ['closed', false, false];
    }

    #[DataProvider('lives')]
    public function testAChangeIsThereAsAWholeOrNotAtAllAndTheNextOneWorks(string $misfortune, bool $isFault, bool $isKept): void
    {
        $empty = Instance::emptyDatabase('whole')->connection;
        $connection = Instance::connect();
        $connection->executeStatement('USE olivine_whole');
        $changes = new WholeChanges($connection);
        $request = Request::create('/api/anything', 'POST');
        $kernel = self::createStub(HttpKernelInterface::class);
        $insert = static fn(string $name) => $connection->executeStatement('INSERT INTO setting (name, value) VALUES (?, 1)', [$name]);

        $changes->begin(new ControllerArgumentsEvent($kernel, $this->controller(...), [], $request, HttpKernelInterface::MAIN_REQUEST));
        $insert('one');
        $insert('two');
        self::assertSame([], $empty->fetchFirstColumn('SELECT name FROM setting'), 'nobody sees half of it');
        if ($misfortune === 'killed') {
            $empty->executeStatement('KILL ' . (int) $connection->fetchOne('SELECT CONNECTION_ID()'));
        }
        if ($misfortune === 'closed') {
            $connection->close();
        }
        $faults = 0;
        try {
            $isFault && throw new \RuntimeException('refused');
            $changes->keep(new ResponseEvent($kernel, $request, HttpKernelInterface::MAIN_REQUEST, new Response()));
        } catch (\Throwable $fault) {
            ++$faults;
            $changes->drop(new ExceptionEvent($kernel, $request, HttpKernelInterface::MAIN_REQUEST, $fault));
        }
        self::assertSame($isKept ? 0 : 1, $faults, 'whoever asked hears of it');
        self::assertSame($isKept ? ['one', 'two'] : [], $empty->fetchFirstColumn('SELECT name FROM setting ORDER BY name'));

        $changes->keep(new ResponseEvent($kernel, $request, HttpKernelInterface::MAIN_REQUEST, new Response()));
        self::assertFalse($connection->isTransactionActive(), 'the answer to a fault keeps nothing');
        $connection->executeStatement('USE olivine_whole');
        $changes->begin(
            new ControllerArgumentsEvent(
                $kernel,
                $this->controller(...),
                [],
                ($next = Request::create('/api/next', 'POST')),
                HttpKernelInterface::MAIN_REQUEST,
            ),
        );
        $insert('next');
        $changes->keep(new ResponseEvent($kernel, $next, HttpKernelInterface::MAIN_REQUEST, new Response()));
        self::assertSame(1, (int) $empty->fetchOne("SELECT COUNT(*) FROM setting WHERE name = 'next'"));
    }

    /** A deadlock inside a flush closes the entity manager: the next try begins with a new one, and succeeds. */
    public function testADeadlockInAFlushIsTriedAgainWithAFreshManager(): void
    {
        $managers = Instance::managers();
        $manager = Instance::manager($managers);
        $database = new Database($manager->getConnection(), $managers);
        $tries = 0;
        $name = 'deadlock ' . bin2hex(random_bytes(4));
        $database->transaction(function (Connection $connection) use (&$tries, $managers, $name): void {
            $now = $managers->getManager();
            self::assertTrue($now instanceof EntityManagerInterface && $now->isOpen());
            $now->persist(new TargetGroup($name));
            if (++$tries === 1) {
                // As a flush does when the server ends it.
                $now->close();
                $connection->executeStatement(
                    "SIGNAL SQLSTATE '40001' SET MYSQL_ERRNO = 1213, MESSAGE_TEXT = 'Deadlock found when trying to get lock'",
                );
            }
            $now->flush();
        });
        self::assertSame(2, $tries);
        self::assertSame(1, $manager->getConnection()->executeStatement('DELETE FROM target_group WHERE name = ?', [$name]), 'kept once');
    }

    /** Two changes that wait for each other: one of them is taken back and done once more, and whoever asked for it hears that it is done. */
    public function testWhoeverWaitsForEachOtherIsNotToldOfIt(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $job = $client->send('POST', '/api/jobs', ['name' => 'deadlock ' . bin2hex(random_bytes(4)), 'everySeconds' => 3_600])[1]['id'];
        $ours = Instance::connect();
        try {
            $address = $client->send('GET', "/api/jobs/{$job}")[1]['address'];
            $ours->beginTransaction();
            // Ours has changed more, so it is the other one that is taken back.
            $ours->executeStatement("INSERT INTO setting (name, value) SELECT CONCAT('deadlock ', id), '1' FROM series LIMIT 2000");
            $ours->executeStatement('UPDATE target SET slow_ms = 1 WHERE id = ?', [$job]);
            $renewing = $client->begin('POST', "/api/jobs/{$job}/address", []);
            // Somebody who looks at what is not kept yet.
            $looking = Instance::connect();
            $looking->executeStatement('SET SESSION TRANSACTION ISOLATION LEVEL READ UNCOMMITTED');
            $digest = static fn(): mixed => $looking->fetchOne('SELECT digest FROM job_key WHERE target_id = ?', [$job]);
            $before = hash('sha256', basename($address));
            Instance::eventually(static fn(): bool => !in_array($digest(), [$before, false], true), 20, 'it has changed the address');
            sleep(1);
            $ours->fetchOne('SELECT COUNT(*) FROM job_key WHERE target_id = ? FOR UPDATE', [$job]);
            $ours->rollBack();
            self::assertSame(204, $renewing->getStatusCode(), $renewing->getContent(false));
            $renewed = $client->send('GET', "/api/jobs/{$job}")[1]['address'];
            self::assertNotSame($address, $renewed);
            self::assertSame(1, (int) $ours->fetchOne('SELECT COUNT(*) FROM job_key WHERE target_id = ?', [$job]), 'it is done once');
        } finally {
            if ($ours->isTransactionActive()) {
                $ours->rollBack();
            }
            $client->send('DELETE', "/api/targets/{$job}", []);
        }
    }

    public function testWhatDoesNotAskForItHasNoTransaction(): void
    {
        $connection = Instance::connect();
        (new WholeChanges($connection))->begin(
            new ControllerArgumentsEvent(
                self::createStub(HttpKernelInterface::class),
                static fn(): Response => new Response(),
                [],
                new Request(),
                HttpKernelInterface::MAIN_REQUEST,
            ),
        );
        self::assertFalse($connection->isTransactionActive());
    }

    #[AsAWhole]
    private function controller(): Response
    {
        return new Response();
    }
}
