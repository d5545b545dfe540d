<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\TestCase;
use Symfony\Component\Routing\RouterInterface;

/** docs/openapi.yaml promises what is there: no less, no more, and each read of it answers as it says. */
final class ContractTest extends TestCase
{
    public function testEveryRouteIsPromisedAndEveryPromiseIsARoute(): void
    {
        $router = Instance::container()->get('router');
        self::assertInstanceOf(RouterInterface::class, $router);
        $there = [];
        foreach ($router->getRouteCollection() as $route) {
            foreach (str_starts_with($route->getPath(), '/api/') ? $route->getMethods() : [] as $method) {
                $there[] = "{$method} {$route->getPath()}";
            }
        }
        $promised = [];
        foreach (Contract::get()->paths as $path => $operations) {
            foreach (array_keys($operations) as $method) {
                $promised[] = strtoupper($method) . " {$path}";
            }
        }
        self::assertEqualsCanonicalizing($promised, $there);
    }

    /** As whom it says: with its examples each read answers, and whoever may less is turned away. */
    public function testEveryReadAnswersAsPromisedToWhomeverItIsFor(): void
    {
        $people = [
            'nobody' => new Client(null),
            'viewer' => new Client('viewer@saltmarsh.example'),
            'engineer' => new Client('ines@saltmarsh.example'),
            'administrator' => new Client('admin@saltmarsh.example'),
        ];
        // Something was seen that was not well.
        Instance::connect()->executeStatement(
            "INSERT INTO evidence (target_id, place, at, verdict, words, seconds, steps)
             SELECT MIN(id), 1, 1000, 'down', 'Nothing listens', 0.1, '[]' FROM target WHERE kind = 'http'",
        );
        $first = static fn(string $table): string => (string) Instance::connect()->fetchOne("SELECT MIN(id) FROM {$table}");
        $ids = [
            '/api/incidents/' => $first('incident'),
            '/api/rules/' => $first('rule'),
            '/api/targets/' => $first('target'),
            '/api/people/' => $first('person'),
            '/api/rosters/' => $first('roster'),
            '/api/checks/' => $first("target WHERE kind = 'http'"),
            '/api/evidence/' => $first('evidence'),
            '/api/jobs/' => $first("target WHERE kind = 'job'"),
            '/api/runs/' => $first('job_run'),
            '/api/groups/' => $first('target_group'),
            '/api/rule-drafts/' => $first('rule_draft'),
            '/api/channels/' => $first('channel'),
            '/api/actions/' => $first('action'),
        ];
        foreach (Contract::get()->paths as $path => $operations) {
            if (!isset($operations['get'])) {
                continue;
            }
            [$query, $named] = [[], []];
            foreach ($operations['get']['parameters'] ?? [] as $parameter) {
                if ($parameter['in'] === 'query' && isset($parameter['example'])) {
                    $query[$parameter['name']] = $parameter['example'];
                } elseif (isset($parameter['example'])) {
                    $named['{' . $parameter['name'] . '}'] = $parameter['example'];
                }
            }
            $named['{id}'] = $ids['/api/targets/'];
            $address =
                strtr((string) preg_replace_callback('~^(/api/[\w-]+/)\{id\}~', static fn(array $part): string => $part[1] . $ids[$part[1]], $path), $named) .
                ($query === [] ? '' : '?' . http_build_query($query));
            $may = false;
            foreach ($people as $role => $client) {
                $may = $may || $role === $operations['get']['x-role'];
                [$status, , $text] = $client->send('GET', $address);
                self::assertSame($may ? 200 : ($role === 'nobody' ? 401 : 403), $status, "{$role}: GET {$address} {$text}");
            }
        }
    }

    /** Whoever may not change something hears so, whatever the change. */
    public function testEveryChangeIsForWhomItSays(): void
    {
        $people = [
            'nobody' => new Client(null),
            'viewer' => new Client('viewer@saltmarsh.example'),
            'engineer' => new Client('ines@saltmarsh.example'),
        ];
        foreach (Contract::get()->paths as $path => $operations) {
            foreach (array_diff_key($operations, ['get' => 1]) as $method => $operation) {
                foreach ($people as $role => $client) {
                    if ($role === $operation['x-role']) {
                        break;
                    }
                    $address = str_replace('{id}', '999999999', $path);
                    self::assertSame(
                        $role === 'nobody' ? 401 : 403,
                        $client->send(strtoupper($method), $address, [])[0],
                        "{$role}: {$method} {$address}",
                    );
                }
            }
        }
    }
}
