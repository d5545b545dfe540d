<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

use Olivine\App\Web\BodyBounds;

/** Renders the configuration of nginx into the instance's folder. */
final readonly class ConfigFiles
{
    /** What the web server says by itself, where Olivine is not asked or does not answer. */
    private const PROBLEMS = [
        400 => 'The address or the head of this request is malformed',
        413 => 'This is more than is taken at once here; send it in parts',
        429 => 'Too many connections from one address; let go of some',
        414 => 'This address is longer than 32 kB; shorten the formula in it',
        502 => 'This part of Olivine is being started again; try again in some seconds',
        504 => 'This took longer than 75 seconds; ask for less at once',
    ];

    public function __construct(private Instance $instance, private Parts $parts)
    {
    }

    public function write(): void
    {
        $dir = $this->instance->dir;
        $project = $this->instance->projectDir();
        $ports = $this->instance->ports();
        $user = $this->parts->webUser();
        $workers = $user === 'root' ? 'user root root;' : "user {$user} {$user};";
        $usual = BodyBounds::USUAL;
        file_put_contents(
            "{$dir}/nginx/nginx.conf",
            <<<CONF
            {$workers}
            daemon off;
            worker_processes 2;
            worker_rlimit_nofile 16384;
            pid {$dir}/run/nginx.pid;
            error_log {$dir}/log/nginx.log warn;
            events { worker_connections 4096; }
            http {
                include /etc/nginx/mime.types;
                default_type application/octet-stream;
                access_log off;
                sendfile on;
                server_tokens off;
                # What people and tools send; only files are longer.
                client_max_body_size {$usual};
                # Whoever connects and then says nothing is let go of soon, and nobody holds more than so many at once.
                client_header_timeout 10s;
                client_body_timeout 10s;
                send_timeout 20s;
                keepalive_timeout 30s;
                reset_timedout_connection on;
                limit_conn_zone \$binary_remote_addr zone=address:2m;
                limit_conn_log_level info;
                limit_conn_status 429;
            {$this->trustedProxies()}
                # A formula may have 8,000 characters, each up to three bytes long in an address.
                large_client_header_buffers 4 32k;
                client_body_temp_path {$dir}/nginx/body;
                proxy_temp_path {$dir}/nginx/proxy;
                fastcgi_temp_path {$dir}/nginx/fastcgi;
                uwsgi_temp_path {$dir}/nginx/uwsgi;
                scgi_temp_path {$dir}/nginx/scgi;
                gzip on;
                gzip_comp_level 5;
                gzip_min_length 800;
                gzip_types application/json application/problem+json text/css application/javascript text/javascript image/svg+xml;
                server {
                    listen 127.0.0.1:{$ports->web()};
                    root {$project}/public;
                    limit_conn address 100;
            {$this->headers('same-origin')}
                    location /build/ {
            {$this->headers('same-origin')}
                        add_header Cache-Control "public, max-age=31536000, immutable";
                        try_files \$uri =404;
                    }
                    location /api/ {
            {$this->application()}
                    }
            {$this->longerBodies()}
                    # Calendars that are subscribed to, by a secret address.
                    location /calendar/ {
            {$this->headers(null)}
            {$this->application()}
                    }
                    # The page behind a link in a message tells nobody where it was.
                    location /act/ {
            {$this->headers(null)}
            {$this->application()}
                    }
                    # What other programs bring back: answers of people, signed.
                    location /in/ {
                        client_max_body_size 32k;
            {$this->application()}
                    }
                    location = /index.php { return 404; }
            {$this->problems()}
                    # What tells a browser while no page is open in it answers for all of the site, so it stands at its root.
                    location = /push.js {
            {$this->headers('same-origin')}
                        add_header Cache-Control no-cache;
                        try_files /build/push.js =404;
                    }
                    location / {
            {$this->headers('same-origin')}
                        add_header Cache-Control no-cache;
                        try_files /build/index.html =404;
                    }
                }
            }
            CONF
            ,
        );
    }

    /** Files, what stations bring that were cut off for a while, what jobs printed or counted. */
    private function longerBodies(): string
    {
        $locations = [];
        foreach (BodyBounds::LONGER as $address => $most) {
            $is = str_ends_with($address, '/') ? '' : '= ';
            $locations[] = <<<CONF
                                    location {$is}{$address} {
                                        client_max_body_size {$most};
                {$this->application()}
                                    }
                CONF;
        }

        return implode("\n", $locations);
    }

    /**
     * Where a place adds any header of its own, it has none of those around it: so all stand everywhere.
     *
     * @param string|null $referrer null where the application says so itself
     */
    private function headers(?string $referrer): string
    {
        $headers =
            [
                'X-Content-Type-Options' => 'nosniff',
                'X-Frame-Options' => 'DENY',
                'Content-Security-Policy' =>
                    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
            ] + ($referrer === null ? [] : ['Referrer-Policy' => $referrer]);
        $lines = array_map(
            static fn(string $name, string $value): string => "            add_header {$name} \"{$value}\" always;",
            array_keys($headers),
            $headers,
        );

        return implode("\n", $lines);
    }

    private function application(): string
    {
        return <<<CONF
                    include /etc/nginx/fastcgi_params;
                    fastcgi_param HTTP_HOST \$http_host;
                    fastcgi_param REMOTE_ADDR \$realip_remote_addr;
                    fastcgi_param SCRIPT_FILENAME index.php;
                    fastcgi_param SCRIPT_NAME /index.php;
                    fastcgi_pass 127.0.0.1:{$this->instance->ports()->pages()};
                    # Then an answer without its end is seen to be broken off; connections are not kept all the same.
                    fastcgi_keep_conn on;
                    fastcgi_read_timeout 75s;
                    fastcgi_buffers 32 32k;
        CONF;
    }

    /** Whoever comes through one of these is counted by the address it tells of. */
    private function trustedProxies(): string
    {
        $proxies = preg_split('~[\s,]+~', $this->instance->env()['OLIVINE_TRUSTED_PROXIES'] ?? '', -1, PREG_SPLIT_NO_EMPTY) ?: [];
        $lines = array_map(
            static fn(string $proxy): string => "    set_real_ip_from {$proxy};",
            array_filter($proxies, static fn(string $proxy): bool => preg_match('~^[0-9a-f.:/]+$~iD', $proxy) === 1),
        );

        return implode("\n", [...$lines, '    real_ip_header X-Forwarded-For;', '    real_ip_recursive on;']);
    }

    private function problems(): string
    {
        $lines = '';
        foreach (self::PROBLEMS as $status => $words) {
            $lines .=
                "        error_page {$status} /problem/{$status};\n" .
                "        location = /problem/{$status} { internal; default_type application/problem+json; return {$status} '" .
                json_encode(['status' => $status, 'title' => $words], JSON_THROW_ON_ERROR) .
                "'; }\n";
        }

        return $lines;
    }
}
