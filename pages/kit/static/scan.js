// Reads a tag by the camera. Without one, or without leave to use it, the field beside is left.
const camera = document.getElementById("camera");
const video = document.getElementById("seen");
const says = document.getElementById("camerasays");
const key = document.getElementById("opencamera");

const every = 150; // ms between two looks

// look reads one picture of the camera; true once it has led on.
function look(canvas) {
  canvas.width = video.videoWidth;
  canvas.height = video.videoHeight;
  if (!canvas.width) return false;
  const pen = canvas.getContext("2d", { willReadFrequently: true });
  pen.drawImage(video, 0, 0);
  const picture = pen.getImageData(0, 0, canvas.width, canvas.height);
  const code = window.jsQR(picture.data, picture.width, picture.height);
  if (!code || !code.data) return false;
  says.textContent = "Read.";
  location.assign("/scan?code=" + encodeURIComponent(code.data));
  return true;
}

async function open() {
  key.disabled = true;
  let stream;
  try {
    stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: "environment" } });
  } catch {
    camera.hidden = false;
    says.textContent = "The camera cannot be used: type what stands below the code.";
    return;
  }
  camera.hidden = false;
  video.srcObject = stream;
  await video.play();
  const canvas = document.createElement("canvas");
  const looks = setInterval(() => {
    if (!look(canvas)) return;
    clearInterval(looks);
    for (const track of stream.getTracks()) track.stop();
  }, every);
}

// Browsers give a camera to the shop's own machine and over HTTPS alone.
if (navigator.mediaDevices) {
  key.hidden = false;
  key.addEventListener("click", open);
}
