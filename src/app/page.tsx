export default function Page(){return <p>Leadline</p>}
