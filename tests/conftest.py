from hypothesis import settings

settings.register_profile("keencoat", deadline=None, max_examples=30, derandomize=True)
settings.load_profile("keencoat")
