import { Shape } from '@/stages/shape/Shape';

export default function Page() {
  return <Shape />;
}
