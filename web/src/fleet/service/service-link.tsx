import { Link } from '@tanstack/react-router';

/** To the service that a thing of the fleet belongs to, by its label. */
export function ServiceLink({ labels }: { labels: Record<string, string> }) {
  const name = labels['service'];
  return name ? (
    <Link to="/fleet/service/$name" params={{ name }} className="hover:text-ink">
      {name}
    </Link>
  ) : (
    <>no service</>
  );
}
