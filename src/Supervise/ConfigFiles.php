<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

/** Renders the configuration of nginx into the instance's folder. */
final readonly class ConfigFiles
{
    /** What the web server says by itself, where Olivine is not asked or does not answer. */
    private const PROBLEMS = [
        400 => 'The address or the head of this request is malformed',
        413 => 'This is more than 66 MB at once; send it in parts',
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
        file_put_contents("{$dir}/nginx/nginx.conf", <<<CONF
            {$workers}
            daemon off;
            worker_processes 2;
            pid {$dir}/run/nginx.pid;
            error_log {$dir}/log/nginx.log warn;
            events { worker_connections 512; }
            http {
                include /etc/nginx/mime.types;
                default_type application/octet-stream;
                access_log off;
                sendfile on;
                server_tokens off;
                client_max_body_size 66m;
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
                map \$uri \$html_cache { default "no-cache"; }
                server {
                    listen 127.0.0.1:{$ports->web()};
                    root {$project}/public;
                    add_header X-Content-Type-Options nosniff always;
                    add_header Referrer-Policy same-origin always;
                    add_header X-Frame-Options DENY always;
                    add_header Content-Security-Policy "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'" always;
                    location /build/ {
                        add_header Cache-Control "public, max-age=31536000, immutable";
                        add_header X-Content-Type-Options nosniff always;
                        try_files \$uri =404;
                    }
                    location ~ ^/(api|act)/ {
                        include /etc/nginx/fastcgi_params;
                        fastcgi_param HTTP_HOST \$http_host;
                        fastcgi_param SCRIPT_FILENAME index.php;
                        fastcgi_param SCRIPT_NAME /index.php;
                        fastcgi_pass 127.0.0.1:{$ports->pages()};
                        # Then an answer without its end is seen to be broken off; connections are not kept all the same.
                        fastcgi_keep_conn on;
                        fastcgi_read_timeout 75s;
                        fastcgi_buffers 32 32k;
                    }
                    location = /index.php { return 404; }
            {$this->problems()}
                    location / {
                        add_header Cache-Control no-cache;
                        add_header X-Content-Type-Options nosniff always;
                        add_header X-Frame-Options DENY always;
                        add_header Content-Security-Policy "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'" always;
                        try_files /build/index.html =404;
                    }
                }
            }

            CONF);
    }

    private function problems(): string
    {
        $lines = '';
        foreach (self::PROBLEMS as $status => $words) {
            $lines .= "        error_page {$status} /problem/{$status};\n"
                . "        location = /problem/{$status} { internal; default_type application/problem+json; return {$status} '" . json_encode(['status' => $status, 'title' => $words], JSON_THROW_ON_ERROR) . "'; }\n";
        }

        return $lines;
    }
}
