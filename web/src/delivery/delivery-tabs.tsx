import { PageTabs } from '../ui/page-tabs';

const TABS = [
  { to: '/delivery', name: 'Who hears' },
  { to: '/delivery/messages', name: 'Messages' },
] as const;

export const DeliveryTabs = () => <PageTabs label="Delivery" tabs={TABS} className="mt-4" />;
