import { PageTabs } from '../ui/page-tabs';

const TABS = [
  { to: '/delivery', name: 'Who hears' },
  { to: '/delivery/messages', name: 'Messages' },
  { to: '/delivery/mutes', name: 'Mutes and maintenance' },
  { to: '/delivery/actions', name: 'Actions' },
  { to: '/delivery/templates', name: 'Templates' },
  { to: '/delivery/rehearse', name: 'Rehearse' },
] as const;

export const DeliveryTabs = () => <PageTabs label="Delivery" tabs={TABS} className="mt-4" />;
