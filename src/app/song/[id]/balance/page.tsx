import { Balance } from '@/stages/balance/Balance';

export default function Page() {
  return <Balance />;
}
