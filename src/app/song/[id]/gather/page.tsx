import { Gather } from '@/stages/gather/Gather';

export default function Page() {
  return <Gather />;
}
