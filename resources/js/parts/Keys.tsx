import { Sheet } from './Sheet';

const KEYS: [string, string][] = [
    ['/ or Ctrl K', 'Find a job, a customer, a pack, an action'],
    ['b', 'Bench'],
    ['n', 'Take a pack in'],
    ['[ and ]', 'One stage back, one stage on'],
    ['Enter', 'While probing: take the number and go to the next tap'],
    ['Space', 'While probing, with the field empty: repeat what is asked'],
    ['Backspace', 'While probing, with the field empty: take the last number back'],
    ['Ctrl V', 'While probing: paste a whole column of numbers'],
    ['up, down', 'While probing: another tap'],
    ['?', 'This sheet'],
    ['Esc', 'Close what lies on top'],
];

export default function Keys({ onClose }: { onClose: () => void }) {
    return (
        <Sheet title="Keys" onClose={onClose}>
            <table>
                <tbody>
                    {KEYS.map(([key, what]) => (
                        <tr key={key}>
                            <th scope="row" className="text-left font-bold whitespace-nowrap pr-6 py-1.5 align-top">
                                {key}
                            </th>
                            <td className="py-1.5">{what}</td>
                        </tr>
                    ))}
                </tbody>
            </table>
        </Sheet>
    );
}
