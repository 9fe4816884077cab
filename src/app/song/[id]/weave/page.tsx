import { Weave } from '@/stages/weave/Weave';

export default function Page() {
  return <Weave />;
}
