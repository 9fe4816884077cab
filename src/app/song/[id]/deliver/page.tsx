import { Deliver } from '@/stages/deliver/Deliver';

export default function Page() {
  return <Deliver />;
}
